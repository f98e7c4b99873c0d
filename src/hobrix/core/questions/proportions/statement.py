"""The hypothesis statement, line by line, for teaching and protocols."""

from hobrix.core.questions.picked import those
from hobrix.core.questions.proportions.compare import tested_on
from hobrix.core.questions.proportions.reading import size_of
from hobrix.core.questions.proportions.results import Sentence
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.wording import against, count, p_equals


def statement(work: ProportionsWork) -> tuple[Sentence, ...]:
    groups, options = work.groups, work.options
    far, base = groups.clearest, groups.base
    there, here = those(groups)
    outcome = work.pair.outcome.variable.title
    title = work.pair.explanatory.variable.title
    event = f"“{groups.event_label}” ({outcome})"
    what = "share of" if groups.shares_have_meaning else "odds of"
    two = len(groups.groups) == 2 or options.alternative != "two_sided"
    if two:
        null = f"The {what} {event} is the same {there} as {here}."
        side = {
            "two_sided": f"differs between {far.label} and {base.label}",
            "less": f"is lower {there} than {here}",
            "greater": f"is higher {there} than {here}",
        }
        other = f"The {what} {event} {side[options.alternative]}."
        test = tested_on(work, far, options.alternative)
    else:
        null = f"The {what} {event} is the same in every group of {title}."
        other = f"The {what} {event} differs between at least two groups of {title}."
        test = work.test
    alpha = work.question.alpha
    rejected = test is not None and test.p < alpha
    decision = (
        "There is no p to decide by."
        if test is None
        else f"{'Reject' if rejected else 'Do not reject'} the null hypothesis at the "
        f"{100 * alpha:.4g}% level."
    )
    conclusion = (
        f"The data speak for it: {other[0].lower()}{other[1:]}"
        if rejected
        else "The data do not show a difference; that is not the same as showing there is none."
    )
    name = "None" if test is None else f"{test.name[0].upper()}{test.name[1:]}"
    return (
        Sentence(heading="Null hypothesis", text=null),
        Sentence(heading="Alternative", text=other),
        Sentence(
            heading="Data",
            text=f"Yes or no for each of {count(groups.overall.n)} {work.pair.counted.noun_many}, "
            f"in {len(groups.groups)} independent groups.",
        ),
        Sentence(heading="Test", text=f"{name}{_why(work, test is not None)}."),
        Sentence(
            heading="Estimate",
            text=f"{against(far.label, base.label)}: {size_of(work, far) or 'not defined'}.",
        ),
        Sentence(heading="p", text="not defined" if test is None else p_equals(test.p)),
        Sentence(heading="Decision", text=decision),
        Sentence(heading="Conclusion", text=conclusion),
    )


def _why(work: ProportionsWork, is_tested: bool) -> str:
    if not is_tested:
        return ", since nothing tells how much the groups vary"
    if work.question.is_designed:
        return ", which allows for the design of the sample"
    if work.exact_p is not None:
        return ", because expected counts are small"
    return ", for independent groups"
