"""The same people three times or more, a yes or no each: is it as common every time, and between which two not?"""

import numpy as np

from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.work import CrosstabWork
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.lens import Found
from hobrix.core.questions.slots import event_of
from hobrix.core.questions.wording import count, percent, points, reported_test
from hobrix.core.tables import paired

# Every two of them are compared.
MOST_OCCASIONS = 12


def has_occasions(work: CrosstabWork) -> bool:
    """Whether the outcome and all it may vary with, at least two, have the same two answers, people being counted
    one by one."""
    terms = work.question.vary_with
    if not 2 <= len(terms) < MOST_OCCASIONS or work.question.is_designed or work.question.within:
        return False
    if any(term.together_with for term in terms) or work.question.options.categories:
        return False
    variables = [work.frame.variables[name] for name in _names(work)]
    answers = [category.value for category in variables[0].categories]
    alike = all(
        each.is_categorical and [c.value for c in each.categories] == answers for each in variables
    )
    return alike and len(answers) == 2 and bool(event_of(work.question, variables[0]))


def _names(work: CrosstabWork) -> list[str]:
    """The outcome first."""
    assert work.question.outcome is not None
    return [work.question.outcome.variable, *(term.variable for term in work.question.vary_with)]


def occasions(work: CrosstabWork) -> Found:
    names, rows = _names(work), work.sampling.rows
    variables = [work.frame.variables[name] for name in names]
    (event,) = event_of(work.question, variables[0])
    at = [category.value for category in variables[0].categories].index(event)
    codes = np.column_stack([work.frame.categorical(name, "vary_with").codes for name in names])
    used = (codes >= 0).all(axis=1)
    if rows.mask is not None:
        used &= rows.mask
    people = codes[used] == at
    if rows.weights is not None:
        people = np.repeat(people, rows.weights[used].astype(np.int64), axis=0)
    found = paired.occasions(people, work.question.confidence)
    titles = [variable.title for variable in variables]
    panel = r.OccasionsPanel(
        event_label=variables[0].label_of(event),
        n=found.n,
        mixed=found.mixed,
        occasions=tuple(
            r.Occasion(title=title, events=events, share=events / found.n if found.n else 0.0)
            for title, events in zip(titles, found.events, strict=True)
        ),
        test=None if found.q is None else NamedTest.chi_square("Cochran’s Q test", found.q),
        changes=tuple(
            r.OccasionChange(
                first=titles[each.first],
                second=titles[each.second],
                # The first less the second is found; the change is the other way.
                change=-each.difference.estimate,
                ci=(-each.difference.newcombe_ci.high, -each.difference.newcombe_ci.low),
                exact_p=each.mcnemar.exact_p,
                p_adjusted=each.p_adjusted,
            )
            for each in found.changes
        ),
    )
    return Found(panel, write_up=_written(panel, work.question.alpha))


def _written(panel: r.OccasionsPanel, alpha: float) -> str:
    if panel.test is None:
        return ""
    told = ", ".join(f"{each.title} {percent(each.share)}" for each in panel.occasions)
    text = f"Of {count(panel.n)} who answered all, “{panel.event_label}”: {told} ({reported_test(panel.test)})."
    clear = [each for each in panel.changes if each.p_adjusted < alpha]
    if panel.test.p < alpha and clear:
        most = max(clear, key=lambda each: round(abs(each.change), 9))
        text += (
            f" The largest clear change was between {most.first} and {most.second}: {points(most.change)} percentage points, "
            "McNemar’s exact tests with all pairs allowed for (Holm)."
        )
    return text
