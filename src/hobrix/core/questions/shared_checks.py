"""Checks that several lenses make: how rows count, who is set aside, small groups."""

import re
from collections.abc import Sequence

import numpy as np

from hobrix.core.data import (
    CategoricalColumn,
    CountsColumn,
    Design,
    EachRow,
    Frame,
    NumericColumn,
)
from hobrix.core.logistic.patterns import distinct_rows
from hobrix.core.questions.answer import Check, Counted, Remedy, Sample
from hobrix.core.questions.estimates import Share
from hobrix.core.questions.lens import Work
from hobrix.core.questions.question import Question
from hobrix.core.questions.thresholds import (
    COSTLY_DESIGN,
    FEW_DEGREES,
    MOST_CELLS,
    REPEATED,
    SMALL_GROUP,
)
from hobrix.core.questions.wording import count, first_of, number


def counting_checks(work: Work, counted: Counted, shares: Sequence[Share] = ()) -> list[Check]:
    """How rows count, in words; under a design also whether it carries what is shown (``shares``)."""
    question, frame = work.question, work.frame
    sample = work.sampling.sample
    if sample is not None:
        return _of_design(question, frame, sample, shares)
    if isinstance(question.counted_by, CountsColumn):
        return _of_counts(question, question.counted_by, frame, counted)
    return [] if frame.cases.is_repeated else [_of_rows(question, frame)]


def _of_counts(
    question: Question, counting: CountsColumn, frame: Frame, counted: Counted
) -> list[Check]:
    title = frame.variables[counting.variable].title
    text = (
        f"Each row is a group, counted as {title} says: {count(counted.rows)} rows, "
        f"{counted.people(counted.in_subset)}."
    )
    if (found := _may_be_weights(counting, frame, question)) is not None:
        return [found]
    blank = frame.how_many(frame.numeric(counting.variable, "counted_by").is_missing)
    if not blank:
        return [Check(id="counting", status="ok", text=text)]
    text += f" Rows without a count are taken as 0: {count(blank)}."
    return [Check(id="counting", status="care", text=text)]


def _may_be_weights(counting: CountsColumn, frame: Frame, question: Question) -> Check | None:
    """Sampling weights taken as counts make one person many: told by their name, or by rows that
    are alike in everything else, of which a table of counts has none."""
    variable = frame.variables[counting.variable]
    repeated = frame.once(("rows alike but for", variable.name), lambda: _repeated(counting, frame))
    if re.search(r"\b(weights?|wgt|wt)\b", f"{variable.name} {variable.title}".lower()):
        why = f"{variable.title} sounds like a sampling weight."
    elif repeated > frame.rows * REPEATED:
        why = (
            f"{count(repeated)} of {count(frame.rows)} rows are like another in everything but "
            f"{variable.title}, where a table of counts would have one row: it may be a sampling "
            "weight."
        )
    else:
        return None
    text = (
        f"{why} Taken as a count, a weight makes one {frame.noun.one} many, and intervals and "
        "p-values far too small."
    )
    weighted = question.changed(counted_by=Design(weights=variable.name))
    remedy = Remedy(label="Take it as a weight", question=weighted)
    return Check(id="counting", status="care", text=text, remedies=(remedy,))


def _repeated(counting: CountsColumn, frame: Frame) -> int:
    """Rows that are like an earlier one in all variables with answers or numbers but the counts; 0
    where there are too many to look at."""
    others = [
        name
        for name, variable in frame.variables.items()
        if name != counting.variable and variable.can_be_asked
    ]
    if not others or frame.rows * len(others) > MOST_CELLS or not frame.has_own_rows:
        return 0
    columns = []
    for name in others:
        column = frame.column(name)
        if isinstance(column, CategoricalColumn):
            columns.append(column.codes)
        elif isinstance(column, NumericColumn):
            columns.append(np.nan_to_num(column.values, nan=np.inf))
    first, _ = distinct_rows(columns)
    return frame.rows - len(first)


def _of_rows(question: Question, frame: Frame) -> Check:
    text = f"Each {frame.noun.one} counts once and is taken as independent of the others"
    recorded = frame.recorded
    if recorded is None or not recorded.names <= set(frame.variables):
        return Check(id="counting", status="ok", text=f"{text}.")
    text += (
        f", though a design is recorded ({recorded.words(frame.variables)}): numbers are those of the sample"
        f"{', and intervals are likely too narrow' if recorded.clusters else ''}."
    )
    remedy = Remedy(label="Use the design", question=question.changed(counted_by=recorded))
    return Check(id="counting", status="care", text=text, remedies=(remedy,))


def _of_design(
    question: Question, frame: Frame, sample: Sample, shares: Sequence[Share]
) -> list[Check]:
    asked = question.counted_by
    assert isinstance(asked, Design)
    without = Remedy(
        label="See it without the design", question=question.changed(counted_by=EachRow())
    )
    rows = f"{count(sample.rows)} rows{' with a weight' if asked.weights else ''}"
    cost = f"; weighting alone costs a factor of {sample.kish_weighting_deff:.2f}"
    text = (
        f"Sampled with {asked.words(frame.variables)}: {rows}, {sample.drawn}, "
        f"{count(sample.design_df)} degrees of freedom{cost if asked.weights else ''}."
    )
    checks = [Check(id="counting", status="ok", text=text, remedies=(without,))]
    if sample.kish_weighting_deff >= COSTLY_DESIGN:
        size = count(sample.rows / sample.kish_weighting_deff)
        text = (
            f"Very unequal weights cost a factor of {sample.kish_weighting_deff:.1f}: the sample tells "
            f"about as much as {size} rows with the same weight."
        )
        checks.append(Check(id="weights", status="care", text=text))
    if sample.design_df < 1:
        text = (
            "The design leaves no degree of freedom: estimates have no errors, limits or tests. "
            "Take strata together in Data."
        )
        checks.append(Check(id="design_df", status="fail", text=text))
    elif sample.design_df < FEW_DEGREES:
        text = (
            f"Only {count(sample.design_df)} degrees of freedom: intervals are wide and their own "
            "width is unsure."
        )
        checks.append(Check(id="design_df", status="care", text=text))
    if sample.single_psu_strata:
        rule = (
            "its distance from the mean of all clusters is added to the error"
            if asked.single == "grand_mean" and asked.errors == "linearised"
            else "it adds nothing to the error, which is likely too small"
        )
        text = (
            f"Only one cluster in {first_of(sample.single_psu_strata, 4)}: {rule}. Take the "
            "stratum together with another in Data."
        )
        checks.append(Check(id="single_cluster", status="care", text=text))
    deffs = [share.weighted.deff for share in shares if share.weighted and share.weighted.deff]
    if deffs and max(deffs) > COSTLY_DESIGN:
        text = (
            f"The design costs a factor of up to {number(max(deffs))}: intervals rest on far fewer "
            "independent answers than rows."
        )
        checks.append(Check(id="design_effect", status="care", text=text))
    small = [share.label for share in shares if share.n < SMALL_GROUP]
    if small:
        text = f"Fewer than {SMALL_GROUP} rows in {first_of(small, 4)}: shares there are unsure."
        checks.append(Check(id="small_groups", status="care", text=text))
    return checks


def replicates_check(lost: int) -> list[Check]:
    """Replicates in which something is not defined."""
    if not lost:
        return []
    text = (
        f"In {count(lost)} {'replicate' if lost == 1 else 'replicates'} something has no value, such "
        "as a group that only one cluster has: errors rest on the others."
    )
    return [Check(id="replicates", status="care", text=text)]
