"""What the design of the sample changes in an answer; the answer without it stays beside it."""

import numpy as np

from hobrix.core.data import Design, EachRow, Frame
from hobrix.core.questions.answer import Answer, Check, Remedy
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.crosstab.options import options_of
from hobrix.core.questions.distribution.results import DistributionResults
from hobrix.core.questions.quantities import Unavailable
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import reading, tables, within
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.model import survey_model
from hobrix.core.questions.survey.sample import Sample, sample_of
from hobrix.core.questions.two_way import as_used
from hobrix.core.questions.wording import count, listed, number

_MOST = 1000
# Checks of the unweighted answer that mean nothing for the weighted one.
_NOT_OF_DESIGNS = {
    "expected_counts",
    "fit",
    "influence",
    "events_per_coefficient",
    "common_event",
    "independence",
    "linearity",
    "collinearity",
    "small_categories",
    "separation",
    "counting",
}
_INSTEAD = {
    "crosstab": (
        ("exact", "There is no exact test of a weighted sample: use Rao and Scott’s F test."),
        (
            "mantel_haenszel",
            "Pooling over strata has no design-based form here: allow for them in the Odds model.",
        ),
        ("likelihood_ratio", "A weighted sample has no likelihood: use Rao and Scott’s F test."),
    ),
    "proportions": (
        ("pooled", "Pooling over strata: allow for them in the Odds model."),
        ("trend", "For a trend take the variable as a number in the Odds model."),
    ),
    "odds": (
        ("likelihood_ratio", "A weighted sample has no likelihood: terms have Wald tests."),
        ("aic", "It needs a likelihood, which a weighted sample has not."),
        ("hosmer_lemeshow", "Its distribution is not known under a design."),
        ("residuals", "They are shown without the design."),
    ),
    "distribution": (("exact", "There is no exact test of a weighted sample."),),
}


def with_design(given: Answer, question: Question, frame: Frame) -> Answer:
    """The answer with its design-based estimates, which lead.

    Raises:
        QuestionError: the design cannot be used.
    """
    assert isinstance(question.counted_by, Design)
    rows = Rows(question, frame)
    sample = sample_of(question.counted_by, frame, rows.mask)
    results = _results(given, question, frame, sample)
    told = reading.survey_reading(given, results, frame, question)
    kept = [check for check in given.checks if check.id not in _NOT_OF_DESIGNS]
    checks = [*_checks(question, frame, results), *kept]
    order = {"fail": 0, "care": 1, "ok": 2}
    return given.model_copy(
        update={
            "survey": results,
            "reading": told,
            "write_up": reading.survey_write_up(given, results, frame, question),
            "checks": tuple(sorted(checks, key=lambda check: order[check.status])),
        }
    )


def _results(given: Answer, question: Question, frame: Frame, sample: Sample) -> r.SurveyResults:
    shares: tuple[r.SurveyShare, ...] = ()
    comparisons: tuple[r.SurveyComparison, ...] = ()
    strata: tuple[r.SurveyStratum, ...] = ()
    table = fit = mean = model = reference = None
    if question.lens == "odds":
        model = survey_model(question, frame, sample)
    elif question.lens == "distribution":
        assert question.outcome is not None
        outcome = frame.variable(question.outcome.variable, "outcome")
        if outcome.is_categorical:
            shares = tables.category_shares(frame, outcome, sample, question.confidence)
            strata = within.shares_within(question, frame, sample, outcome)
            fit = _goodness_of_fit(given, frame, sample)
        else:
            mean = tables.mean_of(frame, outcome, sample, question.confidence)
    else:
        asked = as_used(question, frame, options_of(question).categories, _MOST)
        crossed = tables.crossed(asked, sample)
        if asked.event and frame.study_design != "case_control":
            shares = tables.group_shares(crossed, question.confidence)
            comparisons = tables.comparisons(crossed, asked.reference, question.confidence)
            used = asked.explanatory.variable
            reference = used.label_of(asked.reference)
        if frame.study_design != "case_control":
            strata = within.groups_within(question, frame, sample, asked)
        if question.lens == "crosstab":
            table = tables.survey_table(crossed, question.confidence)
    moved = reading.moved(shares, model, mean)
    return r.SurveyResults(
        design=sample.told(),
        shares=shares,
        comparisons=comparisons,
        reference=reference,
        table=table,
        goodness_of_fit=fit,
        mean=mean,
        model=model,
        strata=strata,
        moved="" if frame.study_design == "case_control" and not model else moved,
        unavailable=tuple(
            Unavailable(quantity=quantity, reason=reason)
            for quantity, reason in _INSTEAD[question.lens]
        ),
    )


def _goodness_of_fit(given: Answer, frame: Frame, sample: Sample) -> r.SurveyTest | None:
    """Against the shares that the distribution was asked to be compared with."""
    assert isinstance(given.results, DistributionResults)
    first = given.results.whole.variables[0]
    stated = first.goodness_of_fit
    if stated is None:
        return None
    variable = frame.variables[first.variable]
    share = dict(zip(stated.values, stated.expected_shares, strict=True))
    names = [category.value for category in variable.categories]
    chosen = [i for i, name in enumerate(names) if name in share]
    place = np.full(len(names) + 1, -1, dtype=np.int64)
    place[chosen] = np.arange(len(chosen))
    codes = place[sample.codes(np.asarray(frame.categorical(first.variable, "outcome").codes))]
    expected = np.array([share[names[i]] for i in chosen])
    return tables.goodness_of_fit(expected / expected.sum(), sample, codes)


def _checks(question: Question, frame: Frame, results: r.SurveyResults) -> list[Check]:
    design, asked = results.design, question.counted_by
    assert isinstance(asked, Design)
    each = question.model_copy(update={"counted_by": EachRow()})
    without = Remedy(label="See it without the design", question=each)
    text = (
        f"{asked.words(frame).capitalize()}: {count(design.rows)} rows in {count(design.clusters)} "
        f"clusters and {count(design.strata)} "
        f"{'stratum' if design.strata == 1 else 'strata'}, {count(design.design_df)} degrees of "
        f"freedom; weighting alone costs a factor of {design.kish_weighting_deff:.2f}."
    )
    checks = [Check(id="counting", status="ok", text=text, remedies=(without,))]
    if design.design_df < 10:
        text = (
            f"Only {count(design.design_df)} degrees of freedom: intervals are wide and their own "
            "width is unsure."
        )
        fails = design.design_df < 1
        checks.append(Check(id="design_df", status="fail" if fails else "care", text=text))
    if design.single_psu_strata:
        text = (
            f"Only one cluster in {listed(list(design.single_psu_strata)[:4])}: it adds nothing to "
            "the error, which is likely too small. Combine the stratum with another in the "
            "Codebook."
        )
        checks.append(Check(id="single_cluster", status="care", text=text))
    deffs = [share.deff for share in results.shares if share.deff]
    if deffs and max(deffs) > 2:
        text = (
            f"The design costs a factor of up to {number(max(deffs))}: intervals rest on far fewer "
            "independent answers than rows."
        )
        checks.append(Check(id="design_effect", status="care", text=text))
    small = [share.label for share in results.shares if share.n < 30]
    if small:
        text = f"Fewer than 30 rows in {listed(small[:4])}: its share is unsure."
        checks.append(Check(id="small_groups", status="care", text=text))
    asked_otherwise = {"method": "firth", "interval": "profile"}
    if question.lens == "odds" and any(
        question.options.get(key) == value for key, value in asked_otherwise.items()
    ):
        text = (
            "Penalised and profile likelihoods have no design-based form: the model is fitted by "
            "pseudo-maximum likelihood, with limits from its linearised errors."
        )
        checks.append(Check(id="method", status="care", text=text))
    if frame.study_design == "case_control" and question.lens in ("crosstab", "proportions"):
        text = (
            "In a case–control study the share with the event was set by the design, so weighted "
            "shares are not compared. Ask the Odds model."
        )
        remedy = Remedy(
            label="Ask the Odds model", question=question.model_copy(update={"lens": "odds"})
        )
        checks.append(Check(id="study_design", status="care", text=text, remedies=(remedy,)))
    if question.within and not results.strata:
        titles = listed([frame.variables[name].title for name in question.within])
        text = f"Strata of {titles} are shown without the design only. Take one at a time in Among."
        checks.append(Check(id="within", status="care", text=text))
    return checks
