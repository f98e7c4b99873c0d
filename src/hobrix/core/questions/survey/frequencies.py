"""How answers are distributed in a weighted sample, and against stated shares."""

import numpy as np
from scipy import special

from hobrix.core.data import CategoricalColumn, Design, Frame, Variable, missing_reasons
from hobrix.core.data.design import weights_of
from hobrix.core.questions.distribution.results import GoodnessOfFit
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.tables import told
from hobrix.core.questions.survey.tested import SurveyTest
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import FloatArray
from hobrix.core.survey.shares import Shares
from hobrix.core.survey.two_way import cell_shares
from hobrix.core.tables.multiple import holm

# Answers that are told one by one; the others stay in the whole.
MOST_ANSWERS = 300


def category_shares(
    frame: Frame, variable: Variable, sample: Sample, confidence: float
) -> tuple[r.SurveyShare, ...]:
    """The share of every answer to one categorical variable, in the order of the codebook; where
    there are more than ``MOST_ANSWERS``, that of the most common."""
    column = frame.column(variable.name)
    assert isinstance(column, CategoricalColumn)
    codes, categories = sample.codes(np.asarray(column.codes)), variable.categories
    n = np.bincount(codes[codes >= 0], minlength=len(categories))
    if not n.any():
        return ()
    chosen = np.arange(len(categories))
    if len(categories) > MOST_ANSWERS:
        chosen = np.sort(np.argsort(-n, kind="stable")[:MOST_ANSWERS])
        # One more cell for all others; -1 stays -1, the last entry of the lookup.
        place = np.full(len(categories) + 1, len(chosen))
        place[chosen], place[-1] = np.arange(len(chosen)), -1
        codes = place[codes]
    cells = len(chosen) + (len(categories) > len(chosen))
    totals = CellTotals.count(sample.design, [codes], [cells])
    each = np.eye(len(chosen), cells, dtype=bool)
    found = Shares.among(totals, np.ones_like(each), each)
    labels = [(categories[i].value, categories[i].label) for i in chosen.tolist()]
    return told(found, labels, confidence)


def frequencies(
    frame: Frame,
    design: Design,
    inside: np.ndarray | None,
    variable: Variable,
    shares: tuple[r.SurveyShare, ...],
) -> r.SurveyFrequencies:
    """What belongs to the shares of answers in a table: those without an answer by reason, and
    shares up to each answer where there is an order. ``inside`` is the subset, shape (rows,)."""
    weights = np.nan_to_num(weights_of(design, frame))
    source, column = frame.source(variable.name), frame.column(variable.name)
    where = weights > 0 if inside is None else (weights > 0) & inside
    n = missing_reasons(variable, source, column, where=where)
    weighted = missing_reasons(variable, source, column, weights=weights, where=where)
    everybody = float(weights[where].sum())
    gone = sum(reason.n for reason in weighted)
    return r.SurveyFrequencies(
        share_answered=1 - gone / everybody,
        cumulative=tuple(np.cumsum([share.estimate for share in shares]).tolist())
        if variable.kind == "ordinal"
        else (),
        missing=tuple(
            r.SurveyMissing(
                code=one.value, label=one.label, n=one.n, share_of_all=other.n / everybody
            )
            for one, other in zip(n, weighted, strict=True)
        ),
    )


def goodness_of_fit(
    stated: GoodnessOfFit, frame: Frame, variable: Variable, sample: Sample
) -> r.SurveyGoodnessOfFit | None:
    """Observed weighted shares against stated ones: Pearson's statistic with Rao & Scott's
    second-order correction, as for tables, and every share by itself. None where the design leaves
    no degree of freedom."""
    names = [category.value for category in variable.categories]
    place = np.full(len(names) + 1, -1, dtype=np.int64)
    place[[names.index(value) for value in stated.values]] = np.arange(len(stated.values))
    codes = place[sample.codes(np.asarray(frame.categorical(variable.name, "outcome").codes))]
    expected = np.array(stated.expected_shares)
    expected = expected / expected.sum()
    totals = CellTotals.count(sample.design, [codes], [len(expected)])
    test = against_stated(expected, totals)
    if test is None:
        return None
    found = Shares.among(
        totals, np.ones((len(expected),) * 2, dtype=bool), np.eye(len(expected)) > 0
    )
    with np.errstate(divide="ignore", invalid="ignore"):
        z = (found.estimates - expected) / found.errors
    z[~np.isfinite(z)] = 0.0
    p = holm(sample.design.p_of_each(z))
    return r.SurveyGoodnessOfFit(
        **vars(test),
        values=stated.values,
        expected_shares=tuple(expected.tolist()),
        z=tuple(z.tolist()),
        p_adjusted=tuple(p.tolist()),
    )


def against_stated(expected: FloatArray, totals: CellTotals) -> SurveyTest | None:
    """The test of shares of shape (K,), adding up to 1, all above 0."""
    k = len(expected)
    p = totals.weighted / totals.weighted.sum()
    n, nu = float(totals.n.sum()), totals.design.df
    if nu < 1 or k < 2 or np.any(expected <= 0):
        return None
    scores = (np.eye(k) - p) / totals.weighted.sum()
    v = totals.covariance_of(cell_shares, scores)[:-1, :-1]
    v0 = (np.diag(expected[:-1]) - np.outer(expected[:-1], expected[:-1])) / n
    deffs = np.real(np.linalg.eigvals(np.linalg.solve(v0, v)))
    statistic = n * float(np.sum((p - expected) ** 2 / expected))
    total = float(deffs.sum())
    if total <= 0:
        return None
    df1 = total**2 / float(np.sum(deffs**2))
    f = statistic / total
    return SurveyTest(f=f, df1=df1, df2=nu * df1, p=float(special.fdtrc(df1, nu * df1, f)))
