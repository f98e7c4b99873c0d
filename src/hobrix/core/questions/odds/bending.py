"""The same question with the log odds free to bend along a number."""

from hobrix.core.questions.question import Question, Term


def bent(question: Question, name: str) -> Question:
    def changed(terms: tuple[Term, ...]) -> tuple[Term, ...]:
        return tuple(
            term.model_copy(update={"bend": "spline"})
            if term.variable == name and term.together_with is None
            else term
            for term in terms
        )

    return question.changed(
        vary_with=changed(question.vary_with), allowing_for=changed(question.allowing_for)
    )
