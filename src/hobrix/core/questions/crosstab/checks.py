"""What the cross-tabulation assumes, and whether that holds here."""

import math

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.questions.answer import Check, Remedy, in_order
from hobrix.core.questions.crosstab.exact import is_sparse
from hobrix.core.questions.crosstab.results import CrosstabResults, CrosstabTable
from hobrix.core.questions.crosstab.work import CrosstabWork
from hobrix.core.questions.pair_checks import fragile_reference, same_people, set_aside
from hobrix.core.questions.recast import MISSING, Recast
from hobrix.core.questions.rows_checks import rows_checks
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.thresholds import EXPECTED, NO_TRIFLE, TRIFLE
from hobrix.core.questions.wording import count, first_of, level, listed, p_equals, percent, plain
from hobrix.core.tables import independence


def crosstab_checks(work: CrosstabWork, results: CrosstabResults) -> list[Check]:
    """Checks in order of weight."""
    pair, whole = work.pair, results.whole
    explanatory, outcome = pair.explanatory.variable, pair.outcome.variable
    shares = whole.groups.groups if whole.groups and whole.groups.shares_have_meaning else ()
    return list(
        in_order(
            [
                *_expected(work, whole),
                *_event(whole, outcome),
                *_trifle(work, whole),
                set_aside(pair),
                *fragile_reference(pair, whole.groups),
                *same_people(pair, "two_groups"),
                *_empty(whole, explanatory, outcome),
                *_reference(work, whole, explanatory),
                *_few_strata(results),
                *_case_control(work),
                *rows_checks(work),
                *counting_checks(work, pair.counted, shares),
            ]
        )
    )


def _expected(work: CrosstabWork, whole: CrosstabTable) -> list[Check]:
    """The usual rule: at most a fifth of expected counts below 5 and none below 1 (Cochran 1954)."""
    if whole.expected is None:
        return []
    explanatory, outcome = work.pair.explanatory.variable, work.pair.outcome.variable
    smallest, share = whole.expected.minimum_expected, whole.expected.share_expected_below_5
    expected = np.array(whole.expected.expected_counts)
    i, j = np.unravel_index(int(expected.argmin()), expected.shape)
    where = f"{smallest:.1f}, in {whole.rows[i].label} × {whole.columns[j].label}"
    if share == 0:
        text = f"Every expected count is at least {EXPECTED:.0f} (smallest {where})."
        return [Check(id="expected_counts", status="ok", text=text)]
    remedies = _combinations(work, whole, explanatory, "vary_with") + _combinations(
        work, whole, outcome, "outcome"
    )
    many = "All" if share == 1 else f"{percent(share)} of"
    few = f"{many} expected counts are below {EXPECTED:.0f} (smallest {where})"
    if not is_sparse(expected):
        text = f"{few}. The usual rule allows up to 20% with none below 1, so the test holds."
        return [Check(id="expected_counts", status="care", text=text, remedies=remedies)]
    text = f"{few}. That is too sparse for the chi-square test, whose p is only rough."
    if whole.exact is not None:
        text += f" The exact test ({p_equals(whole.exact.fisher_freeman_halton_p)}) stands for it."
        return [Check(id="expected_counts", status="care", text=text, remedies=remedies)]
    return [Check(id="expected_counts", status="fail", text=text, remedies=remedies)]


def _trifle(work: CrosstabWork, whole: CrosstabTable) -> list[Check]:
    """Among very many rows p is small whatever the size of a difference."""
    test, limits = whole.leading_test, whole.cramers_v_ci
    if test is None or limits is None or test.p >= work.question.alpha or limits[1] >= TRIFLE:
        return []
    # Of a rare event V says little: a share may double and V stay small.
    groups = whole.groups
    ratios = [each.odds_ratio.estimate for each in groups.comparisons] if groups else []
    if any(r is None or not 1 / NO_TRIFLE < r < NO_TRIFLE for r in ratios):
        return []
    text = (
        f"p is small because {count(whole.n)} {work.sampling.rows.noun.many} were counted. Cramér’s V is "
        f"at most {plain(math.ceil(100 * limits[1]) / 100, 2)} ({level(work.question.confidence)} "
        "limits): the groups hardly differ."
    )
    return [Check(id="trifle", status="care", text=text)]


def _combinations(
    work: CrosstabWork, whole: CrosstabTable, variable: Variable, slot: str
) -> tuple[Remedy, ...]:
    """The rarest category together with its smaller neighbour, with what that would give."""
    counts = np.array(whole.counts)
    counts = counts if slot == "vary_with" else counts.T
    heads = whole.rows if slot == "vary_with" else whole.columns
    if len(heads) < 3:
        return ()
    totals = counts.sum(axis=1)
    rare = int(totals.argmin())
    if variable.kind == "ordinal":
        others = [k for k in (rare - 1, rare + 1) if 0 <= k < len(heads)]
    else:
        others = [k for k in range(len(heads)) if k != rare]
    partner = min(others, key=lambda k: totals[k])
    first, second = sorted((rare, partner))
    combined = np.delete(counts, second, axis=0)
    combined[first] = counts[first] + counts[second]
    smallest = float(independence.expected_counts(combined).min())
    recast = work.question.options.categories.get(variable.name, Recast())
    joined = (heads[first].value, heads[second].value)
    if any(set(joined) & set(group) for group in recast.combine) or MISSING in joined:
        return ()
    changed = recast.model_copy(update={"combine": (*recast.combine, joined)})
    label = (
        f"Combine {heads[first].label} and {heads[second].label} here: smallest expected count "
        f"then {smallest:.1f}"
    )
    return (Remedy(label=label, question=work.question.with_recast(variable.name, changed)),)


def _few_strata(results: CrosstabResults) -> list[Check]:
    """Sparse strata: the pooled measures cope, the strata by themselves do not."""
    sparse = [
        s.label
        for s in results.strata
        if s.table and s.table.expected and s.table.expected.minimum_expected < EXPECTED
    ]
    if not sparse:
        return []
    text = (
        f"Expected counts are below {EXPECTED:.0f} in {len(sparse)} of {len(results.strata)} strata "
        f"({first_of(sparse, 3)}): read those by themselves with care. Pooled Mantel–Haenszel "
        "measures are made for this."
    )
    return [Check(id="sparse_strata", status="care", text=text)]


def _event(whole: CrosstabTable, outcome: Variable) -> list[Check]:
    if whole.groups is not None or len(whole.columns) != 2:
        return []
    text = (
        f"No answer to {outcome.title} is marked as the event, so odds and shares of the event "
        "cannot be compared. Choose it in the sentence."
    )
    return [Check(id="event", status="care", text=text)]


def _case_control(work: CrosstabWork) -> list[Check]:
    """Weighted odds ratios of a table come from weighted shares, which have no meaning here."""
    if not work.pair.is_case_control or not work.question.is_designed:
        return []
    text = (
        "In a case–control study the share with the event was set by the design, so weighted "
        "shares are not compared. Ask for a model of the odds."
    )
    remedy = Remedy(label="Ask for a model", question=work.question, through="model")
    return [Check(id="study_design", status="care", text=text, remedies=(remedy,))]


def _empty(whole: CrosstabTable, explanatory: Variable, outcome: Variable) -> list[Check]:
    kept = ((explanatory, whole.kept_rows), (outcome, whole.kept_columns))
    empty = [
        f"“{category.label}” ({variable.title})"
        for variable, positions in kept
        for i, category in enumerate(variable.categories)
        if i not in positions
    ]
    if not empty:
        return []
    text = (
        f"Nobody counted is in {listed(empty, 'or')}: left out of the table and of the degrees of "
        f"freedom ({(len(whole.rows) - 1) * (len(whole.columns) - 1)})."
    )
    return [Check(id="empty_categories", status="care", text=text)]


def _reference(work: CrosstabWork, whole: CrosstabTable, explanatory: Variable) -> list[Check]:
    """Say so when another category stands in for a reference that nobody counted is in."""
    asked = work.pair.reference
    if whole.groups is None or not asked or asked == whole.groups.reference:
        return []
    text = (
        f"Nobody counted is in the reference, “{explanatory.label_of(asked)}”: the others are "
        f"compared against “{whole.groups.reference_label}” instead."
    )
    return [Check(id="reference", status="care", text=text)]
