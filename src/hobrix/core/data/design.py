"""Survey designs: what is recorded of weights, strata and clusters, and whether it holds up."""

from collections.abc import Callable
from typing import Literal

import numpy as np

from hobrix.core.data.column import CategoricalColumn, Column
from hobrix.core.data.frame import Frame
from hobrix.core.data.variable import Frozen
from hobrix.core.errors import QuestionError

SLOT = "counted_by"


class Design(Frozen):
    """A sample with weights; strata and clusters (first-stage units) where it has them."""

    kind: Literal["design"] = "design"
    weights: str
    strata: str | None = None
    clusters: str | None = None

    def words(self, frame: Frame) -> str:
        titles = [
            f"{what} {frame.variables[name].title}"
            for what, name in (
                ("weights", self.weights),
                ("strata", self.strata),
                ("clusters", self.clusters),
            )
            if name
        ]
        return ", ".join(titles)


def design_findings(design: Design, frame: Frame) -> tuple[str, ...]:
    """What is noteworthy about a design, in full sentences.

    Raises:
        QuestionError: the weights are no numbers, none is above zero, or one is negative; strata
            or clusters do not exist.
    """
    weights = frame.numeric(design.weights, SLOT).values
    title = frame.variables[design.weights].title
    if np.any(weights < 0):
        row = int(np.argmax(weights < 0)) + 1
        raise QuestionError(f"{title} has a negative weight, in row {row}.", slot=SLOT)
    used = weights > 0
    if not used.any():
        raise QuestionError(f"{title} has no weight above zero.", slot=SLOT)
    findings = []
    n_missing, n_zero = int(np.isnan(weights).sum()), int((weights == 0).sum())
    if n_missing:
        findings.append(f"Left out: {n_missing:,} {_of(frame, n_missing)} without a weight.")
    if n_zero:
        findings.append(f"Left out: {n_zero:,} {_of(frame, n_zero)} with weight 0.")
    kept = weights[used]
    effect = len(kept) * float(np.sum(kept**2)) / float(np.sum(kept)) ** 2
    findings.append(
        f"Weights run from {kept.min():g} to {kept.max():g} and add up to {kept.sum():,.1f}; "
        f"weighting alone costs a factor of {effect:.2f} (Kish), as if there were "
        f"{len(kept) / effect:,.0f} {frame.noun.many}."
    )
    findings += _units(design, frame, used)
    return tuple(findings)


def _of(frame: Frame, n: int) -> str:
    return frame.noun.one if n == 1 else frame.noun.many


def _units(design: Design, frame: Frame, used: np.ndarray) -> list[str]:
    """Strata with a single cluster, and clusters that stand in two strata."""
    strata = _codes(design.strata, frame, used)
    clusters = _codes(design.clusters, frame, used)
    if clusters is None:
        return []
    pairs = np.unique(np.column_stack([_or_one(strata, len(clusters)), clusters]), axis=0)
    findings = []
    shared = len(pairs) - len(np.unique(pairs[:, 1]))
    if strata is not None and shared:
        findings.append(
            f"{shared:,} clusters appear in more than one stratum: they are taken as different "
            "clusters in each."
        )
    names = _names(design.strata, frame)
    per_stratum = np.bincount(pairs[:, 0] + 1)[1:] if len(pairs) else np.array([])
    single = [names(i) for i, n in enumerate(per_stratum) if n == 1]
    if single:
        shown = ", ".join(single[:5]) + (" …" if len(single) > 5 else "")
        findings.append(f"Only one cluster in {len(single)} of the strata: {shown}.")
    n_strata = int(np.count_nonzero(per_stratum))
    findings.append(
        f"{len(pairs):,} clusters in {n_strata:,} {'stratum' if n_strata == 1 else 'strata'}: "
        f"{len(pairs) - n_strata:,} degrees of freedom."
    )
    return findings


def _or_one(codes: np.ndarray | None, rows: int) -> np.ndarray:
    return np.zeros(rows, dtype=np.int64) if codes is None else codes


def _codes(name: str | None, frame: Frame, used: np.ndarray) -> np.ndarray | None:
    if name is None:
        return None
    frame.variable(name, SLOT)
    column: Column = frame.column(name)
    if isinstance(column, CategoricalColumn):
        return np.asarray(column.codes[used], dtype=np.int64)
    _, codes = np.unique(column.values[used], return_inverse=True)
    return np.asarray(codes, dtype=np.int64)


def _names(name: str | None, frame: Frame) -> Callable[[int], str]:
    labels = [c.label for c in frame.variables[name].categories] if name else []
    return lambda i: labels[i] if i < len(labels) else f"stratum {i + 1}"
