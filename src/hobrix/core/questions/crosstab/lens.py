"""The Crosstab lens: how does one outcome vary with one explanatory variable?"""

from hobrix.core.data import Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Answer, NextStep
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.crosstab.checks import crosstab_checks
from hobrix.core.questions.crosstab.estimate import crosstab_results
from hobrix.core.questions.crosstab.reading import crosstab_reading, crosstab_write_up, furthest
from hobrix.core.questions.crosstab.results import CrosstabTable
from hobrix.core.questions.question import Outcome, Question, Term
from hobrix.core.questions.slots import event_of, reference_of
from hobrix.core.tables.counts import FloatArray, count_table

MAX_CATEGORIES = 200


def answer_crosstab(question: Question, frame: Frame) -> Answer:
    """Answer through the Crosstab lens.

    Raises:
        QuestionError: a slot is empty, names something that cannot be cross-tabulated, or
            leaves nobody to count.
    """
    outcome, explanatory, term = _variables(question, frame)
    event = event_of(question, outcome)
    reference = reference_of(term, explanatory)
    rows = Rows(question, frame)
    columns = (
        frame.categorical(explanatory.name, "vary_with"),
        frame.categorical(outcome.name, "outcome"),
    )
    full = count_table(
        [column.codes for column in columns],
        [len(column.categories) for column in columns],
        weights=rows.weights,
        where=rows.mask,
    )
    table = full[1:, 1:]
    _refuse_nothing_to_compare(table, explanatory, outcome, frame)
    counted = rows.counted(full, outcome, explanatory)
    results = crosstab_results(
        table,
        explanatory,
        outcome,
        event=event,
        reference=reference,
        confidence=question.confidence,
    )
    whole = results.whole
    level = question.confidence
    return Answer(
        lens="crosstab",
        question=question,
        counted=counted,
        results=results,
        checks=crosstab_checks(question, frame, whole, counted, full, explanatory, outcome),
        reading=crosstab_reading(whole, explanatory, outcome, counted, level),
        next_steps=tuple(_next_steps(question, whole, explanatory, outcome)),
        write_up=crosstab_write_up(whole, explanatory, outcome, level),
    )


def _variables(question: Question, frame: Frame) -> tuple[Variable, Variable, Term]:
    if question.outcome is None:
        raise QuestionError("Choose the outcome: what is the question about?", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose what the outcome may vary with.", slot="vary_with")
    for slot in ("allowing_for", "within"):
        if getattr(question, slot):
            words = slot.replace("_", " ")
            raise QuestionError(f"The Crosstab lens does not answer “{words}” yet.", slot=slot)
    if len(question.vary_with) > 1:
        message = "The Crosstab lens takes one explanatory variable at a time."
        raise QuestionError(message, slot="vary_with")
    term = question.vary_with[0]
    outcome = frame.variable(question.outcome.variable, "outcome")
    explanatory = frame.variable(term.variable, "vary_with")
    if outcome.name == explanatory.name:
        message = f"{outcome.title} cannot vary with itself. Choose another variable here."
        raise QuestionError(message, slot="vary_with")
    for variable, slot in ((outcome, "outcome"), (explanatory, "vary_with")):
        if len(frame.categorical(variable.name, slot).categories) > MAX_CATEGORIES:
            raise QuestionError(
                f"{variable.title} has {len(variable.categories):,} categories, more than a table "
                f"can show ({MAX_CATEGORIES}). Combine categories in the Codebook first.",
                slot=slot,
            )
    return outcome, explanatory, term


def _refuse_nothing_to_compare(
    table: FloatArray, explanatory: Variable, outcome: Variable, frame: Frame
) -> None:
    if table.sum() == 0:
        raise QuestionError(
            f"No {frame.noun.one} answered both {outcome.title} and {explanatory.title}.",
            slot="vary_with",
        )
    for variable, axis, slot in ((explanatory, 1, "vary_with"), (outcome, 0, "outcome")):
        present = [
            category.label
            for category, n in zip(variable.categories, table.sum(axis=axis), strict=True)
            if n > 0
        ]
        if len(present) < 2:
            raise QuestionError(
                f"Everyone counted gave the same answer to {variable.title}: “{present[0]}”. "
                "There is nothing to compare.",
                slot=slot,
            )


def _next_steps(
    question: Question, whole: CrosstabTable, explanatory: Variable, outcome: Variable
) -> list[NextStep]:
    steps = []
    by_group = whole.event_by_group
    if by_group is None:
        if len(outcome.categories) == 2:
            steps += [
                NextStep(
                    label=f"Take “{c.label}” as the event", question=question.with_event(c.value)
                )
                for c in outcome.categories
            ]
    else:
        others = [c for c in outcome.categories if c.value not in by_group.event]
        label = " or ".join(category.label for category in others)
        turned = question.with_event(*(category.value for category in others))
        steps.append(NextStep(label=f"Turn it round: {outcome.title}: {label}", question=turned))
        far = furthest(by_group)
        steps.append(
            NextStep(
                label=f"Compare against {far.label}", question=question.with_reference(far.value)
            )
        )
    swapped = question.model_copy(
        update={
            "outcome": Outcome(variable=explanatory.name),
            "vary_with": (Term(variable=outcome.name),),
        }
    )
    label = f"Swap: how does {explanatory.title} vary with {outcome.title}?"
    steps.append(NextStep(label=label, question=swapped))
    return steps
