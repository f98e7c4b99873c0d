"""The same model within each stratum."""

from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.every_answer import results as r
from hobrix.core.questions.every_answer.rows import answers_told, ratios_of
from hobrix.core.questions.every_answer.work import EveryAnswerWork, fit
from hobrix.core.questions.modelling.answers import prepare_answers
from hobrix.core.questions.modelling.contrasts import contrasts_of


def strata(work: EveryAnswerWork) -> tuple[r.AnswersStratum, ...]:
    """References, medians and knots are those of the whole."""
    if work.strata is None:
        return ()
    found = []
    for code, (values, label) in enumerate(work.labels):
        where = work.used & (work.strata == code)
        n = float(work.asked.trials[where].sum())
        if n:
            found.append(_stratum(work, where, n, values, label))
    return tuple(found)


def _stratum(
    work: EveryAnswerWork, where: Mask, n: float, values: tuple[str, ...], label: str
) -> r.AnswersStratum:
    whole = work.model
    keys = [
        (term.name, given, level, told, answer)
        for term in whole.terms
        for given, level, told, _ in contrasts_of(whole.terms, term)
        for answer in answers_told(work)
    ]
    try:
        prepared = prepare_answers(work.asked, where, work.order, whole.parts)
        if not work.is_ordered and prepared.answers[0] != whole.prepared.answers[0]:
            base = whole.prepared.answers[0].label
            raise QuestionError(f"nobody there answered “{base}”", slot="within")
        model = fit(
            work.sampling.within(where), prepared, whole.family, work.question, is_whole=False
        )
    except QuestionError as refused:
        return r.AnswersStratum(
            values=values, label=label, n=n, ratios=(None,) * len(keys), left_out=refused.message
        )
    words = [None] if work.is_ordered else [answer.label for answer in prepared.answers[1:]]
    here = {
        (term.name, given, level, told, each.answer): each
        for term in model.terms
        for given, level, told, contrast in contrasts_of(model.terms, term)
        for each in ratios_of(model, contrast, words)
    }
    return r.AnswersStratum(
        values=values,
        label=label,
        n=n,
        ratios=tuple(here.get(key) for key in keys),
        left_out=None,
    )
