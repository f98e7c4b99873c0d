"""Whether the design of the sample carries what is shown."""

from hobrix.core.data import Design, EachRow, Frame
from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.odds.checks import bent, common_event
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.reading import drawn
from hobrix.core.questions.wording import count, listed, number, p_equals

# Checks of the unweighted answer that mean nothing for the weighted one.
NOT_OF_DESIGNS = {
    "expected_counts",
    "fit",
    "influence",
    "events_per_coefficient",
    "common_event",
    "linearity",
    "collinearity",
    "separation",
    "counting",
}


def survey_checks(
    question: Question, frame: Frame, results: r.SurveyResults, event: str
) -> list[Check]:
    """``event`` is what a model foretells, in words."""
    design, asked = results.design, question.counted_by
    assert isinstance(asked, Design)
    each = question.model_copy(update={"counted_by": EachRow()})
    without = Remedy(label="See it without the design", question=each)
    text = (
        f"Sampled with {asked.words(frame)}: {count(design.rows)} rows with a weight, "
        f"{drawn(question, design, frame)}, {count(design.design_df)} degrees of freedom; "
        f"weighting alone costs a factor of {design.kish_weighting_deff:.2f}."
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
        rule = (
            "its distance from the mean of all clusters is added to the error"
            if asked.single == "grand_mean" and asked.errors == "linearised"
            else "it adds nothing to the error, which is likely too small"
        )
        text = (
            f"Only one cluster in {listed(list(design.single_psu_strata)[:4])}: {rule}. Take the "
            "stratum together with another in Data."
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
    model = results.model
    if model is not None and frame.study_design != "case_control":
        checks += common_event(event, model.share)
    if model is not None and model.fit is not None:
        misfit = model.fit.test.p < 0.05
        text = (
            "Observed and predicted shares differ more than chance explains "
            f"({p_equals(model.fit.test.p)}): let numbers bend, or variables act together."
            if misfit
            else "No misfit was seen between observed and predicted shares in groups of predicted "
            f"probability ({p_equals(model.fit.test.p)})."
        )
        # A number that bends has its odds ratios at several values.
        straight = [term for term in model.terms if term.is_numeric and len(term.rows) == 1]
        remedies = [
            Remedy(label=f"Let {term.title} bend", question=bent(question, term.variable))
            for term in straight[:3]
            if misfit and term.together_with is None
        ]
        status = "care" if misfit else "ok"
        checks.append(Check(id="survey_fit", status=status, text=text, remedies=tuple(remedies)))
    if n := results.replicates_lost:
        text = (
            f"In {count(n)} {'replicate' if n == 1 else 'replicates'} something has no value, such "
            "as a group that only one cluster has: errors rest on the others."
        )
        checks.append(Check(id="replicates", status="care", text=text))
    if question.within and not (results.strata or results.model_strata):
        titles = listed([frame.variables[name].title for name in question.within])
        text = f"Strata of {titles} are shown without the design only. Take one at a time in Among."
        checks.append(Check(id="within", status="care", text=text))
    return checks
