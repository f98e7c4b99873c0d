"""What the slots of a sentence mean once the codebook is known."""

from hobrix.core.data import Category, Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.question import Question, Term


def event_of(question: Question, outcome: Variable) -> tuple[str, ...]:
    """The values that count as the event: as asked, otherwise as the codebook says, or none."""
    assert question.outcome is not None
    event = question.outcome.event or outcome.event
    values = [category.value for category in outcome.categories]
    for value in event:
        if value not in values:
            raise QuestionError(f"“{value}” is not an answer to {outcome.title}.", slot="outcome")
    if set(values) <= set(event):
        message = f"Every answer to {outcome.title} is marked as the event: leave one out."
        raise QuestionError(message, slot="outcome")
    return event


def reference_of(term: Term, explanatory: Variable) -> str:
    """The reference category: as asked, otherwise as the codebook says, otherwise the first."""
    reference = term.reference or explanatory.default_reference() or ""
    if term.reference and reference not in [c.value for c in explanatory.categories]:
        message = f"“{reference}” is not an answer to {explanatory.title}."
        raise QuestionError(message, slot="vary_with")
    return reference


def group_name(explanatory: Variable, category: Category) -> str:
    """The group in words: "River", but "Home flooded: Yes" where the answer alone says little."""
    two_answers = len(explanatory.categories) == 2
    return f"{explanatory.title}: {category.label}" if two_answers else category.label


def refuse_without_event(question: Question, frame: Frame, why: str) -> str | None:
    """What has to be chosen before an event can be spoken of; None where one is."""
    assert question.outcome is not None
    outcome = frame.variable(question.outcome.variable, "outcome")
    if question.outcome.event or outcome.event:
        return None
    return f"{why}: choose which answer to {outcome.title} is the event."


def event_in_words(question: Question, outcome: Variable) -> str:
    """ "“Yes” (Stomach illness)", several answers joined."""
    labels = " or ".join(outcome.label_of(value) for value in event_of(question, outcome))
    return f"“{labels}” ({outcome.title})"
