"""Answering a question: the lens it names works it out, the way it is counted estimates."""

from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, TypeVar

from hobrix.core.data import Design, Frame, Frozen
from hobrix.core.data.design import SLOT
from hobrix.core.data.frame import dates_need_making
from hobrix.core.errors import QuestionError
from hobrix.core.progress import Stages, Tell, quietly
from hobrix.core.questions.answer import (
    Check,
    Gives,
    NextStep,
    PanelHead,
    Remedy,
    Sample,
    in_order,
)
from hobrix.core.questions.beside import beside
from hobrix.core.questions.lens import Found, Lens, Panel, Refusal, Sheet, Work
from hobrix.core.questions.lenses import (
    FORM_OF,
    FORMS,
    LENSES,
    Answer,
    PanelAnswer,
    form_of,
    lens_of,
    lens_that_gives,
)
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import sampling_of
from hobrix.core.questions.shared_checks import replicates_check
from hobrix.core.questions.wording import count, listed, number
from hobrix.core.survey.replicates import TooFewReplicates

TOO_FEW_REPLICATES = (
    "Nearly every replicate leaves out a whole group or answer of this question, so it has no errors "
    "from replicates: choose linearised errors in Data."
)


@dataclass(frozen=True)
class Begun:
    """A question that has been counted: its answer and panels are worked out from the same. ``ways``
    tells of long work: three parts where the question is asked three ways. ``as_it_is`` are the data before
    any number was rounded."""

    lens: Lens[Any]
    work: Work
    ways: Stages
    as_it_is: Frame

    def panels(self) -> list[Panel[Any]]:
        """Those that can be opened."""
        return [panel for panel in self.lens.panels if panel.is_there(self.work)]

    def find(self, name: str) -> Found:
        """
        Raises:
            QuestionError: there is no such panel here.
        """
        panel = next((each for each in self.panels() if each.name == name), None)
        if panel is None or panel.find is None:
            message = f"There is no panel “{name}” in {self.lens.title} for this question."
            raise QuestionError(message, slot="panel")
        with _errors_in_words():
            return panel.find(self.work)

    def sheet(self) -> Sheet:
        with _errors_in_words():
            found: Sheet = self.lens.sheet(self.work)
        return found


def refusal(lens: Lens[Any], question: Question, frame: Frame) -> Refusal | None:
    """Why a lens cannot answer a question, as far as the codebook tells."""
    try:
        _refuse_dates(question, frame)
        return lens.refusal(question, frame)
    except QuestionError as error:
        return Refusal(error.message, error.slot)


def _refuse_dates(question: Question, frame: Frame) -> None:
    named = [("vary_with", term.variable) for term in question.vary_with]
    named += [("allowing_for", term.variable) for term in question.allowing_for]
    named += [("within", name) for name in question.within]
    if question.outcome is not None:
        named.insert(0, ("outcome", question.outcome.variable))
    for slot, name in named:
        variable = frame.variables.get(name)
        if variable is not None and variable.kind == "date":
            raise QuestionError(dates_need_making(variable.title), slot=slot)


def begin(question: Question, frame: Frame, tell: Tell = quietly) -> Begun:
    """Count. ``tell`` hears how much of long work is done, from 0 to 1, and may raise to end it.

    Raises:
        QuestionError: the question cannot be answered with this frame; says which slot is why.
    """
    lens = form_of(question, frame)
    refused = refusal(lens, question, frame)
    if refused is not None:
        remedies = tuple(each for each in refused.remedies if _leads(each[1], frame))
        raise QuestionError(refused.why, slot=refused.slot, remedies=remedies)
    for name in question.options.rounded:
        frame.numeric(name, "options.rounded")
    as_it_is, frame = frame, frame.rounded(question.options.rounded)
    ways = Stages(tell, 3 if question.options.beside and question.is_designed else 1)
    with _errors_in_words():
        sampling = sampling_of(question, frame, ways.part)
        return Begun(lens, lens.work(question, frame, sampling), ways, as_it_is)


def _leads(way: object, frame: Frame) -> bool:
    """Whether a question that is offered in place of one that was refused has an answer."""
    try:
        return isinstance(way, Question) and begin(way, frame) is not None
    except QuestionError:
        return False


def answer(
    question: Question, frame: Frame, tell: Tell = quietly, panels: Sequence[str] | None = ()
) -> Answer:
    """Answer a question through the lens it names; of its panels those named (None: all).

    Raises:
        QuestionError: the question cannot be answered with this frame; says which slot is why.
    """
    return finish(begin(question, frame, tell), panels)


def finish(begun: Begun, panels: Sequence[str] | None = ()) -> Answer:
    """The answer to a question that was begun; of its panels those named (None: all)."""
    lens, question, frame = begun.lens, begun.work.question, begun.work.frame
    sheet = begun.sheet()
    sample = begun.work.sampling.sample
    counted = sheet.counted
    if sample is not None:
        lost = sheet.replicates_lost
        sample = sample.model_copy(update={"moved": sheet.moved, "replicates_lost": lost})
        counted = counted.model_copy(update={"counting": _counting(sample, question, frame)})
    heads = begun.panels()
    named = [p.name for p in heads if p.find] if panels is None else panels
    found = {name: begun.find(name) for name in named}
    checks = [*_passed_over(begun), *sheet.checks, *replicates_check(sheet.replicates_lost)]
    for each in found.values():
        checks += each.checks
    checks += _rounded(question, begun.as_it_is)
    if frame.counted_where:
        checks.append(Check(id="where", status="ok", text=frame.counted_where))
    three_ways = None
    if question.options.beside and isinstance(question.counted_by, Design):

        def quantities(other: Question) -> Any:
            begun.ways.next()
            results = begin(other, frame, begun.ways.part).sheet().results
            return lens.quantities(results)

        own = lens.quantities(sheet.results)
        three_ways = beside(question, own, quantities)
    return Answer(
        lens=lens.name,
        question=question,
        counted=counted,
        sample=sample,
        results=sheet.results,
        beside=three_ways,
        unavailable=tuple(sheet.unavailable),
        panels=tuple(_head(panel, begun.work) for panel in heads),
        opened=lens.opened(**{name: each.result for name, each in found.items()}),
        checks=tuple(_check(each, question, frame) for each in in_order(checks)),
        reading=sheet.reading,
        next_steps=tuple(_asked(map(_step, sheet.next_steps), frame)),
        write_up=_written_up(
            [
                sheet.write_up,
                *(each.write_up for each in found.values()),
                *(f"{said}." for said in _rounding(question, frame)),
            ],
            sample,
            frame.note,
        ),
    )


def panel(begun: Begun, name: str, tell: Tell = quietly) -> PanelAnswer:
    """One panel of a question that was begun; from now on its work tells ``tell`` how far it is.

    Raises:
        QuestionError: there is no such panel here, or what it asks otherwise than usual cannot be
            done; says which option is why.
    """
    begun.ways.restart()
    begun.ways.tell = tell
    begun.work.sampling.stages.restart()
    found = begun.find(name)
    return PanelAnswer(
        name=name,
        opened=begun.lens.opened(**{name: found.result}),
        checks=tuple(_check(each, begun.work.question, begun.work.frame) for each in found.checks),
        write_up=found.write_up,
    )


def takes_long(question: Question) -> bool:
    """Whether something is worked out again for every replicate of the sample."""
    counting = question.counted_by
    again = isinstance(counting, Design) and counting.errors != "linearised"
    return again and lens_of(question).takes_long(question)


class LensOffered(Frozen):
    """A lens for a question: what it gives, the slots it reads, and why it cannot answer it, beside
    which slot; ``is_open`` where that only has to be filled in. ``forms`` are lenses that answer some of its
    questions under its title."""

    name: str
    title: str
    gives: Gives
    uses: tuple[str, ...]
    why_not: str | None
    slot: str | None
    is_open: bool
    forms: tuple[str, ...]


def offered(question: Question, frame: Frame) -> tuple[LensOffered, ...]:
    """Every lens for this question."""
    found = []
    for lens in LENSES:
        if lens.name in FORM_OF:
            continue
        asked = question.changed(lens=lens.name)
        refused = refusal(form_of(asked, frame), asked, frame)
        found.append(
            LensOffered(
                name=lens.name,
                title=lens.title,
                gives=lens.gives,
                uses=tuple(sorted(lens.uses)),
                why_not=refused and refused.why,
                slot=refused and refused.slot,
                is_open=refused is not None and refused.is_open,
                forms=tuple(form.name for form in FORMS.get(lens.name, ())),
            )
        )
    return tuple(found)


@contextmanager
def _errors_in_words() -> Iterator[None]:
    try:
        yield
    except TooFewReplicates:
        raise QuestionError(TOO_FEW_REPLICATES, slot=SLOT) from None


def _head(panel: Panel[Any], work: Work) -> PanelHead:
    return PanelHead(
        name=panel.name,
        title=panel.title,
        hint=panel.hint,
        opens=panel.opens(work),
        finds=panel.find is not None,
        checks=panel.checks,
    )


Offer = TypeVar("Offer", Remedy, NextStep)
# What is not done with the variables of a slot that a lens does not read.
_NOT_DONE = {
    "vary_with": "does not look at",
    "allowing_for": "does not allow for",
    "within": "does not look within",
    "matched": "does not keep to the sets of",
}


def _passed_over(begun: Begun) -> list[Check]:
    """Slots that are filled but that the lens does not read, and the lens that does."""
    question, frame = begun.work.question, begun.work.frame
    named = {
        "vary_with": [term.variable for term in question.vary_with],
        "allowing_for": [term.variable for term in question.allowing_for],
        "within": list(question.within),
        "matched": [question.matched] if question.matched else [],
    }
    found = []
    for slot, names in named.items():
        if not names or slot in begun.lens.uses:
            continue
        titles = listed([frame.variable(name, slot).title for name in names])
        text = f"{begun.lens.title} {_NOT_DONE[slot]} {titles}."
        other = next((lens for lens in LENSES if slot in lens.uses), None)
        remedies: tuple[Remedy, ...] = ()
        if other is not None:
            text = f"{text[:-1]}; {other.title} does."
            asked = question.changed(lens=other.name)
            remedies = (Remedy(label=f"Ask it as {other.title}", question=asked),)
        found.append(Check(id="passed_over", status="care", text=text, remedies=remedies))
    return found


def _rounding(question: Question, frame: Frame) -> list[str]:
    """What is said of each number that is taken to the nearest multiple of a step."""
    return [
        f"{frame.variables[name].title} was rounded to the nearest {number(step)}"
        for name, step in question.options.rounded.items()
    ]


def _rounded(question: Question, frame: Frame) -> list[Check]:
    found = []
    for said in _rounding(question, frame):
        text = f"{said} in this question: what lies between is not told apart."
        plain = question.with_rounded({})
        # Where rows stay elsewhere there may be too many to be told apart; and others may be asked about.
        leads = frame.has_own_rows and _leads(plain, frame)
        remedies = (Remedy(label="Take it as it is", question=plain),) if leads else ()
        found.append(Check(id="rounded", status="care", text=text, remedies=remedies))
    return found


def _written_up(parts: list[str], sample: Sample | None, note: str) -> str:
    """One after the other, and at the end how the sample was taken into account, and what those who
    lent the data want to be said."""
    if sample is not None:
        parts.append(
            f"Estimates are weighted, with {sample.errors} for {sample.drawn} "
            f"({count(sample.design_df)} df)."
        )
    if note:
        parts.append(f"{note.rstrip('.')}.")
    return " ".join(part for part in parts if part)


def _check(check: Check, question: Question, frame: Frame) -> Check:
    remedies = tuple(_asked((_remedy(each, question) for each in check.remedies), frame))
    return check.model_copy(update={"remedies": remedies})


def _asked(offers: Iterable[Offer], frame: Frame) -> list[Offer]:
    """Those that lead to an answer as far as the codebook tells."""
    return [
        offer
        for offer in offers
        if offer.question is None
        or refusal(form_of(offer.question, frame), offer.question, frame) is None
    ]


def _remedy(remedy: Remedy, question: Question) -> Remedy:
    if remedy.through is None:
        return remedy
    asked = (remedy.question or question).changed(lens=lens_that_gives(remedy.through).name)
    return remedy.model_copy(update={"question": asked})


def _step(step: NextStep) -> NextStep:
    if step.through is None:
        return step
    asked = step.question.changed(lens=lens_that_gives(step.through).name)
    return step.model_copy(update={"question": asked})


def _counting(sample: Sample, question: Question, frame: Frame) -> str:
    """How rows count, for the strip: weights, clusters, strata and whom they stand for."""
    asked = question.counted_by
    assert isinstance(asked, Design)
    parts = [f"weighted by {frame.variables[asked.weights].title}"] if asked.weights else []
    if asked.clusters:
        parts.append(f"{count(sample.psus)} clusters")
    if asked.strata:
        parts.append(f"{count(sample.strata)} {'stratum' if sample.strata == 1 else 'strata'}")
    if not asked.weights:
        return ", ".join([f"each {frame.noun.one} counts once", *parts])
    # Rows stand for whatever a row is: nobody said.
    whom = "" if frame.noun.many == "rows" else f" {frame.noun.many}"
    part = sample.sum_of_weights_in_subset
    of = "" if part is None else f"{count(part)} of "
    return f"{', '.join(parts)}; standing for {of}{count(sample.sum_of_weights)}{whom}"
