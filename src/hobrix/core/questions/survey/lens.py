"""What the design of the sample changes in an answer; the answer without it stays beside it."""

import numpy as np

from hobrix.core.data import Design, Frame
from hobrix.core.data.design import SLOT
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Answer
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.crosstab.options import options_of as crosstab_options
from hobrix.core.questions.crosstab.results import CrosstabResults
from hobrix.core.questions.distribution.results import DistributionResults
from hobrix.core.questions.odds.results import OddsResults
from hobrix.core.questions.quantities import Unavailable
from hobrix.core.questions.question import Question
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.questions.survey import frequencies, numeric, reading, several, tables, within
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.beside import beside
from hobrix.core.questions.survey.checks import NOT_OF_DESIGNS, survey_checks
from hobrix.core.questions.survey.model import ask_model, model_strata, survey_model
from hobrix.core.questions.survey.options import options_of
from hobrix.core.questions.survey.sample import Sample, sample_of
from hobrix.core.questions.survey.trend import trend
from hobrix.core.questions.survey.write_up import survey_write_up
from hobrix.core.questions.two_way import as_used
from hobrix.core.questions.wording import count
from hobrix.core.survey.logistic import Stages, Tell
from hobrix.core.survey.replicates import TooFewReplicates

_MOST = 1000
_NO_FIT_TEST = (
    "The test of fit needs three groups by predicted probability at least, and more clusters (or "
    "replicates that all groups are in)."
)
TOO_FEW_REPLICATES = (
    "Nearly every replicate leaves out a whole group or answer of this question, so it has no errors "
    "from replicates: choose linearised errors in Data."
)
_INSTEAD = {
    "crosstab": (
        ("exact", "There is no exact test of a weighted sample: use Rao and Scott’s F test."),
        (
            "mantel_haenszel",
            "Pooling over strata has no design-based form here: allow for them in the Odds model.",
        ),
        ("likelihood_ratio", "A weighted sample has no likelihood: use Rao and Scott’s F test."),
    ),
    "proportions": (("pooled", "Pooling over strata: allow for them in the Odds model."),),
    "odds": (
        ("likelihood_ratio", "A weighted sample has no likelihood: terms have Wald tests."),
        ("aic", "It needs a likelihood, which a weighted sample has not."),
        ("hosmer_lemeshow", "Its distribution is not known under a design."),
        ("auc", "How well the model sorts is shown without the design."),
        ("residuals", "Unusual rows are shown without the design."),
    ),
    "distribution": (("exact", "There is no exact test of a weighted sample."),),
}


def with_design(given: Answer, question: Question, frame: Frame, tell: Tell) -> Answer:
    """The answer with its design-based estimates, which lead. ``tell`` hears how much of long work
    is done, and may raise to end it.

    Raises:
        QuestionError: the design cannot be used.
    """
    assert isinstance(question.counted_by, Design)
    rows = Rows(question, frame)
    sample = sample_of(question.counted_by, frame, rows.subset)
    try:
        results = _results(given, question, frame, sample, tell)
    except TooFewReplicates:
        raise QuestionError(TOO_FEW_REPLICATES, slot=SLOT) from None
    if options_of(question).beside:
        only = question.model_copy(update={"counted_by": question.counted_by.weights_only()})
        alone = sample_of(question.counted_by.weights_only(), frame, rows.subset)
        other = _results(given, only, frame, alone, tell)
        both = beside(given, other, results, question.confidence)
        results = results.model_copy(update={"beside": both})
    told = reading.survey_reading(given, results, frame, question)
    kept = [check for check in given.checks if check.id not in NOT_OF_DESIGNS]
    event = given.results.event_label if isinstance(given.results, OddsResults) else ""
    checks = [*survey_checks(question, frame, results, event), *kept]
    order = {"fail": 0, "care": 1, "ok": 2}
    return given.model_copy(
        update={
            "counted": given.counted.model_copy(
                update={"counting": _counting(results, question, frame)}
            ),
            "survey": results,
            "reading": told,
            "write_up": survey_write_up(given, results, frame, question),
            "checks": tuple(sorted(checks, key=lambda check: order[check.status])),
        }
    )


def _results(
    given: Answer, question: Question, frame: Frame, sample: Sample, tell: Tell
) -> r.SurveyResults:
    empty = r.SurveyResults(
        design=sample.told(),
        unavailable=tuple(
            Unavailable(quantity=quantity, reason=reason)
            for quantity, reason in _INSTEAD[question.lens]
        ),
    )
    match question.lens:
        case "distribution":
            found = _of_distribution(empty, given, question, frame, sample)
        case "odds":
            found = _of_model(empty, question, frame, sample, tell)
        case _:
            found = _of_groups(empty, given, question, frame, sample, tell)
    if frame.study_design == "case_control" and found.model is None:
        return found
    outcome = question.outcome
    assert outcome is not None
    event = outcome.event or frame.variables[outcome.variable].event
    moved = reading.moved(found.shares, found.model, found.mean, found.table, event)
    return found.model_copy(update={"moved": moved})


def _of_distribution(
    empty: r.SurveyResults, given: Answer, question: Question, frame: Frame, sample: Sample
) -> r.SurveyResults:
    assert question.outcome is not None
    assert isinstance(given.results, DistributionResults)
    design = question.counted_by
    assert isinstance(design, Design)
    outcome = frame.variable(question.outcome.variable, "outcome")
    found: dict[str, object] = {
        "others": several.others(question, frame, sample),
        "strata": within.shares_within(question, frame, sample, outcome),
    }
    if outcome.is_categorical:
        shares = frequencies.category_shares(frame, outcome, sample, question.confidence)
        found["shares"] = shares
        found["frequencies"] = frequencies.frequencies(
            frame, design, Rows(question, frame).subset, outcome, shares
        )
        if (n := len(outcome.categories)) > frequencies.MOST_ANSWERS:
            reason = f"{count(n)} different answers: the {frequencies.MOST_ANSWERS} most common are told."
            gone = Unavailable(quantity="shares", reason=reason)
            found["unavailable"] = (*empty.unavailable, gone)
        if stated := given.results.whole.variables[0].goodness_of_fit:
            fit = frequencies.goodness_of_fit(stated, frame, outcome, sample)
            found["goodness_of_fit"] = fit
    else:
        bins = given.results.whole.variables[0].histogram
        found["mean"] = numeric.mean_of(frame, outcome, sample, question.confidence)
        found["histogram"] = numeric.weighted_bins(frame, outcome, sample, bins)
    return empty.model_copy(update=found)


def _of_groups(
    empty: r.SurveyResults,
    given: Answer,
    question: Question,
    frame: Frame,
    sample: Sample,
    tell: Tell,
) -> r.SurveyResults:
    # What replicates make long: the trend, and the measures of a table.
    stages = Stages(tell, 2)
    asked = as_used(question, frame, crosstab_options(question).categories, _MOST)
    crossed = tables.crossed(asked, sample)
    confidence = question.confidence
    found: dict[str, object] = {"replicates_lost": crossed.replicates_lost}
    # The share with the event was set by the design of a case-control study.
    has_shares = frame.study_design != "case_control"
    if has_shares:
        found["strata"] = within.groups_within(question, frame, sample, asked)
    if has_shares and asked.event:
        found["shares"] = tables.group_shares(crossed, confidence)
        found["comparisons"] = tables.comparisons(crossed, asked.reference, confidence)
        found["reference"] = asked.explanatory.variable.label_of(asked.reference)
        found["trend"] = trend(asked, crossed, sample, confidence, stages.part)
    stages.next()
    if question.lens == "crosstab":
        assert isinstance(given.results, CrosstabResults)
        plain = _plain_measures(given.results)
        found["several"] = several.each_with_outcome(question, frame, sample, _MOST)
        found["table"] = tables.survey_table(crossed, confidence, plain, stages.part)
    return empty.model_copy(update=found)


def _plain_measures(results: CrosstabResults) -> dict[str, float | None]:
    """The measures of the table with each row counted once, by name."""
    found = results.whole.association
    return {
        key: None if value is None else value.value
        for key in type(found).model_fields
        if (value := getattr(found, key)) is None or hasattr(value, "ase")
    }


def _of_model(
    empty: r.SurveyResults, question: Question, frame: Frame, sample: Sample, tell: Tell
) -> r.SurveyResults:
    asked = ask_model(question, frame, sample, tell)
    codes, labels = strata_codes(question, frame)
    if codes is not None:
        present = np.unique(codes[asked.used & (codes >= 0)])
        refuse_too_many(question, frame, len(present))
        asked.stages.total += len(present)
    told, model = survey_model(asked, has_probabilities=frame.study_design != "case_control")
    strata = None if codes is None else model_strata(asked, model, codes, labels)
    unavailable = empty.unavailable
    if told.fit is None:
        unavailable += (Unavailable(quantity="fit", reason=_NO_FIT_TEST),)
    return empty.model_copy(
        update={
            "unavailable": unavailable,
            "model": told,
            "model_strata": strata,
            "replicates_lost": model.replicates_lost,
        }
    )


def _counting(results: r.SurveyResults, question: Question, frame: Frame) -> str:
    """How rows count, for the strip: weights, clusters, strata and whom they stand for."""
    design, asked = results.design, question.counted_by
    assert isinstance(asked, Design)
    parts = [f"weighted by {frame.variables[asked.weights].title}"]
    if asked.clusters:
        parts.append(f"{count(design.psus)} clusters")
    if asked.strata:
        parts.append(f"{count(design.strata)} {'stratum' if design.strata == 1 else 'strata'}")
    # Rows stand for whatever a row is: nobody said.
    whom = "" if frame.noun.many == "rows" else f" {frame.noun.many}"
    part = design.sum_of_weights_in_subset
    of = "" if part is None else f"{count(part)} of "
    return f"{', '.join(parts)}; standing for {of}{count(design.sum_of_weights)}{whom}"
