"""What the cross-tabulation assumes, and whether that holds here."""

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.questions.answer import Check, Counted, Remedy
from hobrix.core.questions.crosstab.options import options_of
from hobrix.core.questions.crosstab.results import CrosstabResults, CrosstabTable
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import MISSING, Recast
from hobrix.core.questions.shared_checks import counting_check, passed_over_check
from hobrix.core.questions.wording import count, listed, p_equals, percent
from hobrix.core.tables import independence
from hobrix.core.tables.counts import FloatArray


def crosstab_checks(
    question: Question,
    frame: Frame,
    results: CrosstabResults,
    counted: Counted,
    full_table: FloatArray,
    explanatory: Variable,
    outcome: Variable,
) -> tuple[Check, ...]:
    """Checks in order of weight. ``full_table`` keeps missing answers at index 0 of both axes."""
    whole = results.whole
    checks = [
        _expected(question, whole, explanatory, outcome),
        *_event(whole, outcome),
        *_set_aside(counted, full_table, explanatory, outcome),
        *_empty(whole, explanatory, outcome),
        *_reference(question, whole, explanatory),
        *_few_strata(results),
        *passed_over_check(question, frame),
        counting_check(question, frame, counted),
    ]
    order = {"fail": 0, "care": 1, "ok": 2}
    return tuple(sorted(checks, key=lambda check: order[check.status]))


def _expected(
    question: Question, whole: CrosstabTable, explanatory: Variable, outcome: Variable
) -> Check:
    """The usual rule: at most a fifth of expected counts below 5 and none below 1 (Cochran 1954)."""
    smallest, share = whole.minimum_expected, whole.share_expected_below_5
    expected = np.array(whole.expected_counts)
    i, j = np.unravel_index(int(expected.argmin()), expected.shape)
    where = f"{smallest:.1f}, in {whole.rows[i].label} × {whole.columns[j].label}"
    if share == 0:
        return Check(
            id="expected_counts",
            status="ok",
            text=f"Every expected count is at least 5 (smallest {where}).",
        )
    remedies = _combinations(question, whole, explanatory, "vary_with") + _combinations(
        question, whole, outcome, "outcome"
    )
    few = f"{percent(share)} of expected counts are below 5 (smallest {where})"
    if share <= 0.2 and smallest >= 1 and expected.size > 4:
        text = f"{few}. The usual rule allows up to 20% with none below 1, so the test holds."
        return Check(id="expected_counts", status="care", text=text, remedies=remedies)
    text = f"{few}. That is too sparse for the chi-square test: its p is only rough."
    if whole.exact is not None:
        p = p_equals(whole.exact.fisher_freeman_halton_p)
        text += f" The exact test gives {p}: report that one."
        return Check(id="expected_counts", status="care", text=text, remedies=remedies)
    if whole.fisher_exact is not None:
        text += f" Fisher’s exact test gives {p_equals(whole.fisher_exact.two_sided)}."
    return Check(id="expected_counts", status="fail", text=text, remedies=remedies)


def _combinations(
    question: Question, whole: CrosstabTable, variable: Variable, slot: str
) -> tuple[Remedy, ...]:
    """The rarest category together with its smaller neighbour, with what that would give."""
    counts = np.array(whole.counts)
    counts = counts if slot == "vary_with" else counts.T
    heads = whole.rows if slot == "vary_with" else whole.columns
    if len(heads) < 3:
        return ()
    totals = counts.sum(axis=1)
    rare = int(totals.argmin())
    if variable.kind == "ordinal":
        others = [k for k in (rare - 1, rare + 1) if 0 <= k < len(heads)]
    else:
        others = [k for k in range(len(heads)) if k != rare]
    partner = min(others, key=lambda k: totals[k])
    first, second = sorted((rare, partner))
    combined = np.delete(counts, second, axis=0)
    combined[first] = counts[first] + counts[second]
    test = independence.pearson_test(combined)
    smallest = float(independence.expected_counts(combined).min())
    known = options_of(question).categories
    recast = known.get(variable.name, Recast())
    joined = (heads[first].value, heads[second].value)
    if any(set(joined) & set(group) for group in recast.combine) or MISSING in joined:
        return ()
    changed = recast.model_copy(update={"combine": (*recast.combine, joined)})
    categories = {name: each.model_dump(mode="json") for name, each in known.items()}
    categories[variable.name] = changed.model_dump(mode="json")
    asked = question.model_copy(update={"options": {**question.options, "categories": categories}})
    label = (
        f"Combine {heads[first].label} and {heads[second].label} here: {p_equals(test.p)}, "
        f"smallest expected {smallest:.1f}"
    )
    return (Remedy(label=label, question=asked),)


def _few_strata(results: CrosstabResults) -> list[Check]:
    """Sparse strata: the pooled measures cope, the strata by themselves do not."""
    sparse = [s.label for s in results.strata if s.table and s.table.minimum_expected < 5]
    if not sparse:
        return []
    text = (
        f"Expected counts are below 5 in {len(sparse)} of {len(results.strata)} strata "
        f"({listed(sparse[:3])}{' …' if len(sparse) > 3 else ''}): read those by themselves with "
        "care. Pooled Mantel–Haenszel measures are made for this."
    )
    return [Check(id="sparse_strata", status="care", text=text)]


def _event(whole: CrosstabTable, outcome: Variable) -> list[Check]:
    if whole.event_by_group is not None or len(whole.columns) != 2:
        return []
    text = (
        f"No answer to {outcome.title} is marked as the event, so odds and shares of the event "
        "cannot be compared. Choose it in the sentence."
    )
    return [Check(id="event", status="care", text=text)]


def _set_aside(
    counted: Counted,
    full_table: FloatArray,
    explanatory: Variable,
    outcome: Variable,
) -> list[Check]:
    """Who was set aside, and whether they differ from those counted."""
    lost = counted.in_subset - counted.counted
    if lost == 0:
        text = f"Every one of the {count(counted.in_subset)} {counted.noun_many} answered both."
        return [Check(id="set_aside", status="ok", text=text)]
    share = lost / counted.in_subset
    noun = counted.noun_one if lost == 1 else counted.noun_many
    text = f"{count(lost)} {noun} ({percent(share)}) did not answer both and are set aside."
    differs = [
        found
        for found in (
            _differs(full_table, explanatory, f"no answer to {outcome.title}"),
            _differs(full_table.T, outcome, f"no answer to {explanatory.title}"),
        )
        if found
    ]
    if differs:
        return [Check(id="set_aside", status="care", text=f"{text} {' '.join(differs)}")]
    status = "care" if share > 0.1 else "ok"
    compared = (full_table[1:, 0].sum() > 0) or (full_table[0, 1:].sum() > 0)
    if compared:
        text += " They do not differ clearly from those counted in what they did answer."
    return [Check(id="set_aside", status=status, text=text)]


def _differs(table: FloatArray, known: Variable, what: str) -> str | None:
    """Does not answering the other question go with the category of this one?"""
    silent, answered = table[1:, 0], table[1:, 1:].sum(axis=1)
    pair = independence.drop_empty(np.column_stack([silent, answered]))
    if pair.counts.shape[1] < 2 or pair.counts.shape[0] < 2:
        return None
    test = independence.pearson_test(pair.counts)
    if test.p >= 0.05:
        return None
    shares = pair.counts[:, 0] / pair.counts.sum(axis=1)
    high, low = int(shares.argmax()), int(shares.argmin())
    labels = [known.categories[i].label for i in pair.kept_rows]
    return (
        f"They differ: {what} for {percent(shares[high])} of {labels[high]}, "
        f"against {percent(shares[low])} of {labels[low]} ({p_equals(test.p)})."
    )


def _empty(whole: CrosstabTable, explanatory: Variable, outcome: Variable) -> list[Check]:
    kept = ((explanatory, whole.kept_rows), (outcome, whole.kept_columns))
    empty = [
        f"“{category.label}” ({variable.title})"
        for variable, positions in kept
        for i, category in enumerate(variable.categories)
        if i not in positions
    ]
    if not empty:
        return []
    text = (
        f"Nobody counted is in {listed(empty, 'or')}: left out of the table and of the "
        f"degrees of freedom ({whole.chi_square.pearson.df})."
    )
    return [Check(id="empty_categories", status="care", text=text)]


def _reference(question: Question, whole: CrosstabTable, explanatory: Variable) -> list[Check]:
    """Say so when another category stands in for a reference that nobody counted is in."""
    asked = question.vary_with[0].reference or explanatory.default_reference()
    by_group = whole.event_by_group
    if by_group is None or asked is None or asked == by_group.reference:
        return []
    text = (
        f"Nobody counted is in the reference, “{explanatory.label_of(asked)}”: the others are "
        f"compared against “{by_group.reference_label}” instead."
    )
    return [Check(id="reference", status="care", text=text)]
