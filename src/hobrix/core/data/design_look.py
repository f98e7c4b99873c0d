"""Whether a survey design holds up, in words."""

import numpy as np

from hobrix.core.data.column import CategoricalColumn, IntArray, as_text
from hobrix.core.data.design import Design
from hobrix.core.data.design_columns import Strata, clusters_of, strata_of, weights_of
from hobrix.core.data.frame import Frame
from hobrix.core.data.variable import Category, Frozen

# Strata and clusters named in a finding.
_MOST_NAMED = 5
# Weights differ by no more than rounding.
_ALIKE = 1e-12
# Strata that are offered on the screen to be taken together.
MOST_OFFERED = 300


class DesignLook(Frozen):
    """What is noteworthy about a design, in full sentences; strata with one cluster, and all
    strata, where they are few enough to choose from."""

    findings: tuple[str, ...]
    single: tuple[Category, ...]
    strata: tuple[Category, ...]


def look_at(design: Design, frame: Frame) -> DesignLook:
    """Whether a design holds up.

    Raises:
        QuestionError: the weights are no numbers, none is above zero, or one is negative; strata
            or clusters do not exist.
    """
    weights = weights_of(design, frame)
    used = weights > 0
    findings = []
    n_missing, n_zero = frame.how_many(np.isnan(weights)), frame.how_many(weights == 0)
    if n_missing:
        findings.append(f"Left out: {n_missing:,} {_of(frame, n_missing)} without a weight.")
    if n_zero:
        findings.append(f"Left out: {n_zero:,} {_of(frame, n_zero)} with weight 0.")
    if design.weights is not None:
        findings += _of_weights(design.weights, weights, used, frame)
    strata, clusters = strata_of(design, frame), clusters_of(design, frame)
    told, single = _units(design, frame, used, strata, clusters)
    offered = strata.names if strata and len(strata.names) <= MOST_OFFERED else ()
    taken = {value for group in design.together for value in group[1:]}
    return DesignLook(
        findings=(*findings, *told),
        single=single,
        strata=tuple(category for category in offered if category.value not in taken),
    )


def _of_weights(name: str, weights: np.ndarray, used: np.ndarray, frame: Frame) -> list[str]:
    """Their range, what they add up to and what they cost. Of rows that stay where they are only sums may be
    known, not the range."""
    kept, n, findings = weights[used], frame.how_many(used), []
    many = _rows_of(frame, used)
    total = float(many @ kept)
    is_averaged = frame.averaged is not None and frame.averaged[0] == name
    squares = float(many @ kept**2)
    if frame.averaged is not None and is_averaged:
        squares = float(frame.averaged[1][used].sum())
    if frame.has_own_rows and n > 1 and np.array_equal(np.sort(kept), np.arange(1, n + 1)):
        title = frame.variables[name].title
        findings.append(f"{title} numbers the rows from 1 to {n:,}: hardly a weight.")
    effect = n * squares / total**2
    if effect <= 1 + _ALIKE:
        findings.append(
            f"All weights are {kept[0]:g}: they change no share. They add up to {total:,.1f}."
        )
        return findings
    run = "Weights" if is_averaged else f"Weights run from {kept.min():.4g} to {kept.max():.4g} and"
    findings.append(
        f"{run} add up to {total:,.1f}; weighting alone costs a factor of {effect:.2f} (Kish), as if there were "
        f"{n / effect:,.0f} {frame.noun.many}."
    )
    return findings


def _rows_of(frame: Frame, used: np.ndarray) -> np.ndarray:
    """How many rows of the data each of those here is."""
    return np.ones(int(used.sum())) if frame.stands_for is None else frame.stands_for[used]


def _of(frame: Frame, n: int) -> str:
    return frame.noun.one if n == 1 else frame.noun.many


def _listed(names: list[str]) -> str:
    return ", ".join(names[:_MOST_NAMED]) + (" …" if len(names) > _MOST_NAMED else "")


def _named(name: str, codes: IntArray, frame: Frame) -> str:
    """What the codes of a column stand for, -1 left out."""
    column, codes = frame.column(name), codes[codes >= 0]
    if isinstance(column, CategoricalColumn):
        return _listed([column.categories[code].label for code in codes])
    distinct = np.unique(column.values[~column.is_missing])
    return _listed([as_text(number) for number in distinct[codes].tolist()])


def _units(
    design: Design,
    frame: Frame,
    used: np.ndarray,
    strata: Strata | None,
    clusters: IntArray | None,
) -> tuple[list[str], tuple[Category, ...]]:
    """Strata with a single cluster, clusters that stand in two strata, degrees of freedom."""
    one = np.zeros(int(used.sum()), dtype=np.int64)
    n_rows, many = frame.how_many(used), _rows_of(frame, used)
    of_stratum = one if strata is None else strata.codes[used]
    # Without clusters every row is its own.
    of_cluster = np.arange(len(one)) if clusters is None else clusters[used]
    findings = []
    for codes, what in ((of_stratum, "stratum"), (of_cluster, "cluster")):
        if n := round(float(many[codes < 0].sum())):
            findings.append(f"{n:,} {_of(frame, n)} with a weight have no {what}.")
    pairs = np.unique(np.column_stack([of_stratum, of_cluster]), axis=0)
    each, in_strata = np.unique(pairs[:, 1], return_counts=True)
    if design.clusters is not None and (twice := each[in_strata > 1]).size:
        n = len(twice)
        findings.append(
            f"{n:,} {'cluster stands' if n == 1 else 'clusters stand'} in more than one stratum "
            f"({_named(design.clusters, twice, frame)}): taken as different clusters in each."
        )
    if clusters is not None and len(in_strata) == n_rows:
        findings.append(f"Every {frame.noun.one} is a cluster of its own, as without clusters.")
    per_stratum = np.bincount(pairs[:, 0] + 1)[1:]
    if clusters is None:
        per_stratum = np.bincount(of_stratum + 1, weights=many)[1:].round().astype(np.int64)
    single: tuple[Category, ...] = ()
    if strata is not None:
        single = tuple(strata.names[i] for i in np.flatnonzero(per_stratum == 1))
    if single:
        shown = _listed([category.label for category in single])
        rule = (
            "each adds its distance from the mean of all clusters to the error"
            if design.single == "grand_mean"
            else "they add nothing to the error, which is then likely too small"
        )
        findings.append(f"Only one cluster in {len(single)} of the strata ({shown}): {rule}.")
    n_strata = int(np.count_nonzero(per_stratum))
    what = "clusters" if clusters is not None else frame.noun.many
    units = len(pairs) if clusters is not None else n_rows
    findings.append(
        f"{units:,} {what} in {n_strata:,} {'stratum' if n_strata == 1 else 'strata'}: "
        f"{units - n_strata:,} degrees of freedom."
    )
    return findings, single
