"""The same model within each stratum, side by side."""

import numpy as np

from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.coefficients import contrasts_of, rows_of
from hobrix.core.questions.odds.fitted import Fitted, Separated, fit_model
from hobrix.core.questions.odds.prepare import Asked, prepare
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.tables.independence import chi_square_test


def strata(
    whole: Fitted,
    asked: Asked,
    used: Mask,
    codes: IntArray,
    labels: list[tuple[tuple[str, ...], str]],
) -> tuple[tuple[r.OddsStratum, ...], r.OddsPooled]:
    """The model in every stratum that holds somebody; ``codes`` of shape (rows,) name the strata.

    All coefficients but the intercept are tested for being the same everywhere: twice what the
    models of the strata gain over one model with an intercept per stratum.
    """
    found, models = [], []
    for code, (values, label) in enumerate(labels):
        here = used & (codes == code)
        if not here.any():
            continue
        stratum, model = _stratum(whole, asked, here, values, label)
        found.append(stratum)
        models.append(model)
    return tuple(found), _pooled(whole, models)


def _stratum(
    whole: Fitted, asked: Asked, here: Mask, values: tuple[str, ...], label: str
) -> tuple[r.OddsStratum, Fitted | None]:
    model, left_out = None, None
    try:
        model = fit_model(prepare(asked, here, whole.parts), whole.options, whole.confidence)
    except QuestionError as refused:
        left_out = str(refused)
    except Separated:
        left_out = "the outcome is told apart completely, so the odds ratios have no end"
    except (ml.Collinear, ml.NotFinite):
        left_out = "some of its variables say the same there"
    rows: tuple[r.OddsRow | None, ...] = ()
    if model is not None:
        known = {
            (row.term, row.level, row.given, row.label): row
            for term, at in zip(model.terms, model.places, strict=True)
            for row in rows_of(model, term, at)
        }
        rows = tuple(known.get(key) for key in _keys(whole))
    return (
        r.OddsStratum(
            values=values,
            label=label,
            n=float(asked.trials[here].sum()),
            events=float(asked.events[here].sum()),
            rows=rows,
            left_out=left_out,
        ),
        model,
    )


def _keys(whole: Fitted) -> list[tuple[str, str | None, str | None, str]]:
    return [
        (term.name, level, given, label)
        for term in whole.terms
        for given, level, label, _ in contrasts_of(whole, term)
    ]


def _pooled(whole: Fitted, models: list[Fitted | None]) -> r.OddsPooled:
    fitted = [model for model in models if model is not None]
    if whole.options.method == "firth":
        reason = "Penalised likelihoods of parts do not add up to that of the whole."
        return r.OddsPooled(homogeneity=None, reason=reason)
    if len(fitted) < 2 or len(fitted) < len(models):
        return r.OddsPooled(homogeneity=None, reason="Not every stratum could be fitted.")
    wide = whole.data.design.shape[1]
    if any(model.data.design.shape[1] != wide for model in fitted):
        reason = "Some strata lack a category that others have."
        return r.OddsPooled(homogeneity=None, reason=reason)
    design = np.concatenate([model.data.design[:, 1:] for model in fitted])
    own = np.concatenate([np.full(len(m.data.trials), i) for i, m in enumerate(fitted)])
    intercepts = (own[:, None] == np.arange(len(fitted))).astype(float)
    common = Patterns(
        np.column_stack([intercepts, design]),
        np.concatenate([model.data.events for model in fitted]),
        np.concatenate([model.data.trials for model in fitted]),
    )
    together = sum(model.found.log_likelihood for model in fitted)
    gain = max(0.0, 2 * (together - ml.fit(common, is_checked=True).log_likelihood))
    test = chi_square_test(gain, (len(fitted) - 1) * (wide - 1))
    return r.OddsPooled(homogeneity=ChiSquare(**vars(test)), reason=None)
