"""Step by step: nothing, allowing for, with the variables of interest, and further steps."""

from collections.abc import Collection, Sequence
from itertools import groupby
from typing import Protocol

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.terms import ModelTerm, Role, places_of
from hobrix.core.questions.question import Question


class ModelStep(Frozen):
    """What a step adds over the one before: by the likelihood ratio, under a design the adjusted Wald test of its
    terms in the model up to it."""

    step: Role
    titles: tuple[str, ...]
    variables: tuple[str, ...]
    test: NamedTest | None
    log_likelihood: float | None
    aic: float | None
    bic: float | None
    mcfadden: float | None


class ModelSteps(Frozen):
    """``null`` is the log-likelihood without any term."""

    steps: tuple[ModelStep, ...]
    null: float | None


def step_groups(terms: Sequence[ModelTerm], new_step_at: Collection[str]) -> list[list[int]]:
    """Places of the terms of each step; a step ends where the slot changes, and before every term named in
    ``new_step_at``. Interactions enter with the later of their variables."""
    number, numbers = 0, []
    for i, term in enumerate(terms):
        if i and (term.role != terms[i - 1].role or term.name in new_step_at):
            number += 1
        numbers.append(number)
    pairs = groupby(range(len(terms)), key=lambda i: numbers[i])
    return [list(group) for _, group in pairs]


def columns_of_steps(
    terms: Sequence[ModelTerm], new_step_at: Collection[str]
) -> list[tuple[list[ModelTerm], list[int], list[int]]]:
    """For each step its terms, its own columns, and all columns up to it."""
    places, found, so_far = places_of(terms), [], list[int]()
    for group in step_groups(terms, new_step_at):
        own = [column for i in group for column in places[i]]
        so_far = sorted([*so_far, *own])
        found.append(([terms[i] for i in group], own, so_far))
    return found


class _Model(Protocol):
    @property
    def weighted(self) -> object | None: ...
    @property
    def terms(self) -> Sequence[ModelTerm]: ...
    @property
    def places(self) -> Sequence[Sequence[int]]: ...
    def whole_test(self, columns: Sequence[int]) -> NamedTest | None: ...


class _Work(Protocol):
    @property
    def model(self) -> _Model: ...
    @property
    def question(self) -> Question: ...


def gained(work: _Work, terms: Collection[frozenset[str]]) -> NamedTest | None:
    """Wald's test of some terms under a design; None without one, where likelihoods tell, and where the
    model is stratified."""
    model = work.model
    if model.weighted is None or work.question.within:
        return None
    columns = [
        column
        for term, at in zip(model.terms, model.places, strict=True)
        if frozenset(part.name for part in term.parts) in terms
        for column in at
    ]
    return model.whole_test(columns) if columns else None
