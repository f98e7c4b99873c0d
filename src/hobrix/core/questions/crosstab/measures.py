"""Measures of association as rows: each with its title, what it says, and when it suits."""

from dataclasses import dataclass

from hobrix.core.questions.estimates import Measure
from hobrix.core.questions.pair import Pair
from hobrix.core.questions.sampling import PairTable
from hobrix.core.questions.sampling.shape import MeasureOf


@dataclass(frozen=True)
class _Words:
    """``{group}`` and ``{outcome}`` stand for the titles of the two variables."""

    title: str
    says: str
    of_order: bool = False


# "row" is the explanatory variable and "column" the outcome; "x_given_y" predicts x from y.
_MEASURES = {
    "cramers_v": _Words("Cramér’s V", "0 unrelated, 1 one settles the other; no direction"),
    "cramers_v_bias_corrected": _Words(
        "Cramér’s V, corrected", "with what chance alone brings taken out"
    ),
    "phi": _Words("phi", "as V for two by two, with a sign"),
    "contingency_coefficient": _Words(
        "contingency coefficient", "never reaches 1; only for tables of the same size"
    ),
    "lambda_column_given_row": _Words(
        "lambda, {outcome} from {group}",
        "knowing {group} spares this share of wrong guesses of {outcome}",
    ),
    "lambda_row_given_column": _Words(
        "lambda, {group} from {outcome}",
        "knowing {outcome} spares this share of wrong guesses of {group}",
    ),
    "lambda_symmetric": _Words("lambda, both ways", "the two together"),
    "goodman_kruskal_tau_column_given_row": _Words(
        "tau, {outcome} from {group}",
        "knowing {group} improves a guess in proportion by this share",
    ),
    "goodman_kruskal_tau_row_given_column": _Words(
        "tau, {group} from {outcome}", "the same for {group}"
    ),
    "uncertainty_coefficient_column_given_row": _Words(
        "uncertainty, {outcome} from {group}",
        "share of the uncertainty of {outcome} that {group} removes",
    ),
    "uncertainty_coefficient_row_given_column": _Words(
        "uncertainty, {group} from {outcome}", "the same for {group}"
    ),
    "uncertainty_coefficient_symmetric": _Words("uncertainty, both ways", "the two together"),
    "gamma": _Words(
        "gamma",
        "of pairs that differ on both: more in the same order than in the opposite one",
        of_order=True,
    ),
    "kendall_tau_b": _Words(
        "Kendall’s tau-b", "as gamma, ties counted against it; for square tables", of_order=True
    ),
    "stuart_tau_c": _Words(
        "Stuart’s tau-c", "as tau-b for tables that are not square", of_order=True
    ),
    "somers_d_column_given_row": _Words(
        "Somers’ d, {outcome} given {group}",
        "of pairs that differ on {group}: how much {outcome} follows",
        of_order=True,
    ),
    "somers_d_row_given_column": _Words(
        "Somers’ d, {group} given {outcome}",
        "of pairs that differ on {outcome}: how much {group} follows",
        of_order=True,
    ),
    "somers_d_symmetric": _Words("Somers’ d, both ways", "the two together", of_order=True),
}
_BY_ORDER = "somers_d_column_given_row"


def every_measure(pair: Pair, table: PairTable, *, of_order: bool) -> tuple[Measure, ...]:
    """All that are defined here; those of order only where both variables have one."""
    keys = [key for key, words in _MEASURES.items() if of_order or not words.of_order]
    found = table.measures(keys)
    leading = _BY_ORDER if of_order and max(table.counts.shape) > 2 else "cramers_v"
    weighted = pair.question.is_designed
    return tuple(
        _named(key, found.get(key), pair, leads=key == leading)
        for key in keys
        if key in found or not weighted
    )


def leading_by_order(pair: Pair, table: PairTable) -> Measure | None:
    """The measure that suits two ordered variables, where they have more than two answers."""
    rows, columns = table.counts.shape
    kinds = (pair.explanatory.variable.kind, rows), (pair.outcome.variable.kind, columns)
    if max(rows, columns) < 3 or not all(kind == "ordinal" or n == 2 for kind, n in kinds):
        return None
    found = table.measures([_BY_ORDER]).get(_BY_ORDER)
    return None if found is None else _named(_BY_ORDER, found, pair, leads=True)


def _named(key: str, found: MeasureOf | None, pair: Pair, *, leads: bool) -> Measure:
    words = _MEASURES[key]
    titles = {
        "group": pair.explanatory.variable.title,
        "outcome": pair.outcome.variable.title,
    }
    known = {} if found is None else {**vars(found)}
    return Measure(
        key=key,
        title=words.title.format(**titles),
        says=words.says.format(**titles),
        leads=leads,
        **{"value": None, "ci": None, "p": None} | known,
    )
