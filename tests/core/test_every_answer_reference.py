"""Models of ordered and of several answers against reference numbers, asked through the sentence."""

from collections.abc import Iterator
from typing import Any

import pytest

from core.closeness import assert_agrees
from core.reference_questions import frame_of, question_of
from hobrix.core.errors import QuestionError
from hobrix.core.questions import answer
from reference_numbers import reference_cases

ORDERED = reference_cases("ordinal")
SEVERAL = reference_cases("multinomial")
CLOSE = 1e-8


def is_finite(case: dict[str, Any]) -> bool:
    return bool(case["expected"]["maximum_likelihood_finite"])


def has_many(case: dict[str, Any]) -> bool:
    """With two answers the question is one about an event."""
    return len(case["expected"]["categories"]) > 2


def asked(case: dict[str, Any], **options: Any) -> Any:
    outcome = case["outcome"]
    if "categories" in outcome:
        is_of = {"kind": "ordinal", "values": list(outcome["categories"])}
    else:
        options["base"] = outcome["base"]
        is_of = {"kind": "nominal"}
    profiles = case.get("profiles", [])
    question = question_of(
        case, options={"every_answer": {"limits": "profile", "profiles": profiles, **options}}
    )
    frame = frame_of(case, **{outcome["variable"]: is_of})
    return answer(question, frame, panels=None)


def coefficients(answer: Any) -> dict[tuple[str | None, str, str | None], Any]:
    found = answer.opened.coefficients.coefficients
    return {(each.answer, each.term, each.level): each for each in found}


def assert_test(found: Any, expected: dict[str, Any], where: str) -> None:
    assert found.df == expected["df"], where
    assert_agrees(found.statistic, expected["statistic"], where, relative=CLOSE)
    assert_agrees(found.p, expected["p"], where, relative=1e-7)


def assert_model(given: Any, expected: dict[str, Any]) -> None:
    results, worth = given.results, given.results.likelihood
    assert results.n == expected["n"]
    assert results.parameters == expected["parameters"]
    for key in ("log_likelihood", "log_likelihood_null", "deviance", "aic", "bic", "mcfadden"):
        assert_agrees(getattr(worth, key), expected[key], key, relative=CLOSE)
    for key in ("cox_snell", "nagelkerke"):
        assert_agrees(getattr(worth, key), expected[key], key, relative=CLOSE)
    assert_test(results.test, expected["model_likelihood_ratio"], "model")
    terms = {term.term: term for term in results.terms}
    for each in expected["terms"]:
        for key in ("wald", "likelihood_ratio"):
            assert_test(getattr(terms[each["term"]], key), each[key], each["term"])


def assert_coefficient(found: Any, each: dict[str, Any], where: str) -> None:
    for key in ("log_odds", "se", "z"):
        assert_agrees(getattr(found, key), each[key], f"{where} {key}", relative=CLOSE)
    assert_agrees(found.p, each["p"], f"{where} p", relative=1e-7)
    wald = each["log_odds_ci_95_wald"]
    assert_agrees(list(found.log_odds_ci), wald, f"{where} limits", relative=1e-7)


def own_rows(given: Any) -> Iterator[tuple[tuple[str | None, str, str | None], Any]]:
    """Odds ratios that are one coefficient: of terms that act alone."""
    for term in given.results.terms:
        if term.together_with is None and not term.part_of_interaction:
            for row in term.rows:
                for each in row.ratios:
                    yield (each.answer, term.term, row.level), each


@pytest.mark.parametrize("case", [c for c in ORDERED if is_finite(c)], ids=lambda c: c["name"])
def test_answers_in_order(case: dict[str, Any]) -> None:
    given, expected = asked(case), case["expected"]
    assert given.results.is_ordered
    assert_model(given, expected)
    assert list(given.results.unused) == expected["categories_without_answers"]
    counts = [each for each in expected["categories"] if each["n"]]
    assert [(a.value, a.n) for a in given.results.answers] == [
        (each["category"], each["n"]) for each in counts
    ]
    found = coefficients(given)
    thresholds = [c for c in given.opened.coefficients.coefficients if c.term == "threshold"]
    for mine, each in zip(thresholds, expected["thresholds"], strict=True):
        assert mine.label == f"above “{each['above']}”"
        assert_agrees(mine.log_odds, each["estimate"], each["above"], relative=CLOSE)
        assert_agrees(mine.se, each["se"], each["above"], relative=CLOSE)
    own = dict(own_rows(given))
    for each in expected["coefficients"]:
        key = (None, each["term"], each["level"])
        assert_coefficient(found[key], each, each["term"])
        if key in own:
            assert_agrees(list(own[key].ci), each["ci_95_profile"], str(key), relative=1e-7)
    for mine, profile in zip(given.opened.predicted.profiles, expected["predictions"], strict=True):
        used = [each for each in profile["categories"] if each["se"] is not None]
        for share, each in zip(mine.answers, used, strict=True):
            assert_agrees(share.share, each["probability"], each["category"], relative=CLOSE)
            assert_agrees(share.se, each["se"], each["category"], relative=1e-7)
            assert_agrees(list(share.ci), each["ci_95_logit"], each["category"], relative=1e-7)


@pytest.mark.parametrize("case", [c for c in ORDERED if is_finite(c)], ids=lambda c: c["name"])
def test_the_same_at_every_cut(case: dict[str, Any]) -> None:
    given, brant = asked(case), case["expected"]["brant"]
    panel = given.opened.cuts
    if brant is None:
        assert panel is None or not panel.tests
        return
    tests = {each.term or each.title: each.test for each in panel.tests}
    assert_test(tests["All variables"], brant["overall"], "overall")
    one = case["expected"]["separate_coefficients_likelihood_ratio"]
    if one is None:
        assert "All variables, in one likelihood" not in tests
    else:
        assert_test(tests["All variables, in one likelihood"], one, "in one likelihood")
    if len(brant["terms"]) > 1:
        for each in brant["terms"]:
            assert_test(tests[each["term"]], each, each["term"])
    lines = {line.label: line for line in panel.lines}
    cuts = [cut for cut in case["expected"]["binary_cuts"] if cut["separation"] == "none"]
    for at, cut in enumerate(cuts):
        for each in cut["coefficients"]:
            line = lines.get(f"{each['term']}: {each['level']}")
            if line is not None:
                assert_agrees(line.cuts[at].odds_ratio, each["odds_ratio"], relative=CLOSE)


@pytest.mark.parametrize(
    "case", [c for c in SEVERAL if is_finite(c) and has_many(c)], ids=lambda c: c["name"]
)
def test_several_answers(case: dict[str, Any]) -> None:
    given, expected = asked(case), case["expected"]
    assert not given.results.is_ordered
    assert given.results.base.value == expected["base"]
    assert_model(given, expected)
    found, own = coefficients(given), dict(own_rows(given))
    for equation in expected["equations"]:
        for each in equation["coefficients"]:
            key = (equation["category"], each["term"], each["level"])
            assert_coefficient(found[key], each, str(key))
            if key in own and "ci_95_profile" in each:
                assert_agrees(list(own[key].ci), each["ci_95_profile"], str(key), relative=1e-7)
    for mine, profile in zip(given.opened.predicted.profiles, expected["predictions"], strict=True):
        told = [answer.value for answer in given.results.answers]
        shares = dict(zip(told, mine.answers, strict=True))
        for each in profile if isinstance(profile, list) else profile["categories"]:
            share = shares[each["category"]]
            assert_agrees(share.share, each["probability"], each["category"], relative=CLOSE)
            assert_agrees(share.se, each["se"], each["category"], relative=1e-7)
            assert_agrees(list(share.ci), each["ci_95_logit"], each["category"], relative=1e-7)
    for each in expected.get("cross_product_check", []):
        a, b = each["table"][0]
        c, d = each["table"][1]
        key = next(k for k in own if k[0] == each["category"] and k[2] == each["level"])
        assert_agrees(own[key].odds_ratio, a * d / (b * c), str(key), relative=1e-9)


def test_two_answers_are_an_event() -> None:
    (case,) = [case for case in SEVERAL if not has_many(case)]
    (equation,) = case["expected"]["equations"]
    outcome = {"variable": case["outcome"]["variable"], "event": [equation["category"]]}
    given = answer(question_of(case, outcome=outcome), frame_of(case), panels=["coefficients"])
    found = {(c.term, c.level): c for c in given.opened.coefficients.coefficients}
    for each in equation["coefficients"]:
        if each["term"] != "intercept":
            assert_coefficient(found[(each["term"], each["level"])], each, each["term"])


@pytest.mark.parametrize(
    "case", [c for c in [*ORDERED, *SEVERAL] if not is_finite(c)], ids=lambda c: c["name"]
)
def test_separation_is_said(case: dict[str, Any]) -> None:
    with pytest.raises(QuestionError) as refused:
        asked(case)
    expected = case["expected"]
    whole = "completely" if expected["separation"] == "complete" else "in part"
    assert f"told apart {whole}" in refused.value.message
    equations = expected.get("equations", [expected])
    for equation in equations:
        for each in equation["coefficients"]:
            if each["maximum_likelihood"] != "finite" and each["level"]:
                assert f"{each['term']}: {each['level']}" in refused.value.message


def test_turned_round_odds_ratios_are_the_inverse() -> None:
    case = ORDERED[1]
    up, down = asked(case), asked(case, downward=True)
    assert down.results.downward
    for one, other in zip(own_rows(up), own_rows(down), strict=True):
        assert_agrees(one[1].odds_ratio * other[1].odds_ratio, 1.0, relative=1e-9)
        assert_agrees(one[1].ci[0] * other[1].ci[1], 1.0, relative=1e-7)
