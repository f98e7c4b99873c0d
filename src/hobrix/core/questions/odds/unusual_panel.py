"""Unusual rows, and what the odds ratios become without chosen ones."""

import numpy as np

from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.logistic.residuals import change_in_coefficients, residuals
from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.contrasts import contrasts_of
from hobrix.core.questions.modelling.fitted import Fitted, exp
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.opened import UnusualPanel, UnusualRow
from hobrix.core.questions.odds.sorting_panel import is_counted
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.thresholds import LARGE_COOK, LARGE_MOVE
from hobrix.core.questions.wording import number

# Rows listed, and points drawn.
LISTED, DRAWN = 12, 1500


def can_look_at_rows(work: OddsWork) -> bool:
    return is_counted(work) and work.frame.has_own_rows


def unusual(work: OddsWork) -> Found:
    panel = residuals_of(work.model)
    return Found(panel, (_influence(panel),))


def _influence(seen: UnusualPanel) -> Check:
    if seen.largest_cooks_distance < LARGE_COOK and seen.largest_move < LARGE_MOVE:
        text = f"No single row moves a coefficient by more than {seen.largest_move:.2f} standard errors."
        return Check(id="influence", status="ok", text=text)
    row = max(seen.most_extreme, key=lambda each: each.cooks_distance)
    text = (
        f"Row {row.row} moves {row.most_moved} by {abs(row.moved_by):.1f} standard errors. See what "
        "the odds ratios become without it."
    )
    remedy = Remedy(label="See unusual rows", panel="unusual")
    return Check(id="influence", status="care", text=text, remedies=(remedy,))


def residuals_of(model: Fitted) -> UnusualPanel:
    """Residuals of every row: the extreme ones listed with their data, all or many drawn.

    A row that stands for people with and without the event is taken once for each.
    """
    of = residuals(model.data.design, model.found, model.fitted)
    rows, outcome, pattern = _cases(model)
    standardized = of.standardized_pearson[outcome, pattern]
    distance = of.cooks_distance[outcome, pattern]
    deviance = of.deviance[outcome, pattern]
    # The same to nine decimals: the earlier row first.
    order = np.lexsort((rows, -np.round(np.abs(standardized), 9)))
    extreme = order[:LISTED]
    influential = np.argsort(-distance, kind="stable")[:LISTED]
    chosen = np.union1d(extreme, influential)
    drawn = np.arange(len(rows))
    if len(rows) > DRAWN:
        step = -(-len(rows) // DRAWN)
        drawn = np.union1d(drawn[::step], chosen)
    labels = [term.title for term in model.terms for _ in term.column_levels]
    moved = change_in_coefficients(
        model.data.design, model.found, of, outcome[chosen], pattern[chosen]
    )
    by_place = dict(zip(chosen.tolist(), moved, strict=True))

    def told(place: int) -> UnusualRow:
        y, j = int(outcome[place]), int(pattern[place])
        change = by_place.get(place)
        if change is None:
            at = np.array([place])
            change = change_in_coefficients(
                model.data.design, model.found, of, outcome[at], pattern[at]
            )[0]
        most = 1 + int(np.argmax(np.abs(change[1:])))
        return UnusualRow(
            row=int(rows[place]) + 1,
            observed=y,
            fitted=float(model.fitted[j]),
            pearson=float(of.pearson[y, j]),
            standardized_pearson=float(of.standardized_pearson[y, j]),
            deviance=float(of.deviance[y, j]),
            leverage=float(of.leverage[j]),
            cooks_distance=float(of.cooks_distance[y, j]),
            most_moved=labels[most - 1],
            moved_by=float(change[most]),
            values=_values(model, int(rows[place])),
        )

    return UnusualPanel(
        first_rows=tuple(told(place) for place in range(min(5, len(rows)))),
        most_extreme=tuple(told(int(place)) for place in extreme),
        columns=tuple(part.variable.title for part in model.parts.values()),
        points=tuple(
            zip(
                (rows[drawn] + 1.0).tolist(),
                model.fitted[pattern[drawn]].tolist(),
                standardized[drawn].tolist(),
                deviance[drawn].tolist(),
                distance[drawn].tolist(),
                strict=True,
            )
        ),
        of=len(rows),
        largest_cooks_distance=float(distance.max()),
        largest_move=float(np.abs(moved[:, 1:]).max(initial=0.0)),
    )


def _cases(model: Fitted) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Row of the data, outcome and pattern, once for each outcome somebody of the row has."""
    prepared = model.prepared
    asked = prepared.asked
    events, trials = asked.events[prepared.rows], asked.trials[prepared.rows]
    with_event, without = events > 0, trials > events
    rows = np.concatenate([prepared.rows[without], prepared.rows[with_event]])
    outcome = np.repeat([0, 1], [int(without.sum()), int(with_event.sum())])
    pattern = np.concatenate([prepared.pattern[without], prepared.pattern[with_event]])
    order = np.lexsort((outcome, rows))
    return rows[order], outcome[order], pattern[order]


def _values(model: Fitted, row: int) -> tuple[str, ...]:
    """What the row says of every variable of the model, in words."""
    told = []
    for name, part in model.parts.items():
        value = model.prepared.asked.columns[name][row]
        if part.is_numeric:
            told.append(number(float(value)))
        else:
            told.append(part.label_of(float(value)))
    return tuple(told)


def without_rows(work: OddsWork) -> r.WithoutRows | None:
    """The same model without the rows chosen in the options.

    Raises:
        QuestionError: a row that does not exist or is not counted, or the rest cannot be fitted.
    """
    model = work.model
    chosen = sorted(set(work.options.without_rows))
    if not chosen or model.weighted is not None:
        return None
    if not work.frame.has_own_rows:
        message = "Rows of data that stay where they are cannot be left out one by one."
        raise QuestionError(message, slot="options.odds.without_rows")
    prepared = model.prepared
    taken = np.array(chosen) - 1
    at = np.minimum(np.searchsorted(prepared.rows, taken), len(prepared.rows) - 1)
    for row in (taken[prepared.rows[at] != taken] + 1).tolist():
        message = f"Row {row} is not among the rows counted here."
        raise QuestionError(message, slot="options.odds.without_rows")
    trials, events = model.data.trials.copy(), model.data.events.copy()
    np.subtract.at(trials, prepared.pattern[at], prepared.asked.trials[taken])
    np.subtract.at(events, prepared.pattern[at], prepared.asked.events[taken])
    left = trials > 0
    data = Patterns(model.data.design[left], events[left], trials[left])
    try:
        found = model.method.fit(data)
    except (ml.Collinear, ml.NotFinite):
        message = "Without these rows the model cannot be fitted any more."
        raise QuestionError(message, slot="options.odds.without_rows") from None
    ratios = tuple(
        exp(float(contrast @ found.coefficients))
        for term in model.terms
        for *_, contrast in contrasts_of(model.terms, term)
    )
    return r.WithoutRows(rows=tuple(chosen), odds_ratios=ratios)
