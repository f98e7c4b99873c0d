"""The Crosstab lens: how does one outcome vary with one explanatory variable, and within whom?"""

from hobrix.core.questions.answer import NextStep
from hobrix.core.questions.crosstab import panels
from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.checks import crosstab_checks
from hobrix.core.questions.crosstab.occasions_panel import has_occasions, occasions
from hobrix.core.questions.crosstab.printed import methods, tables
from hobrix.core.questions.crosstab.reading import crosstab_reading, crosstab_write_up, moved
from hobrix.core.questions.crosstab.several import each_with_outcome
from hobrix.core.questions.crosstab.strata import pooled
from hobrix.core.questions.crosstab.table import crosstab_table
from hobrix.core.questions.crosstab.twice_panel import is_twice, twice
from hobrix.core.questions.crosstab.work import CrosstabWork, work_on
from hobrix.core.questions.estimates import Quantity, Unavailable
from hobrix.core.questions.lens import Lens, Panel, Sheet
from hobrix.core.questions.pair import StratumOfPair, needed, refusal_of_pair
from hobrix.core.questions.quantities import odds_ratio_of, quantity_of
from hobrix.core.questions.question import Outcome, Term
from hobrix.core.questions.wording import against


def sheet(work: CrosstabWork) -> Sheet:
    whole = work.whole
    results = r.CrosstabResults(
        whole=whole,
        strata=tuple(_stratum(work, stratum) for stratum in work.pair.strata),
        pooled=pooled(work.pair, whole.groups),
        several=each_with_outcome(work),
    )
    return Sheet(
        counted=work.pair.counted,
        results=results,
        checks=crosstab_checks(work, results),
        reading=crosstab_reading(work, results),
        next_steps=_next_steps(work),
        write_up=crosstab_write_up(work, results),
        unavailable=_unavailable(work),
        moved=moved(whole),
        replicates_lost=work.pair.whole.replicates_lost,
    )


def _stratum(work: CrosstabWork, stratum: StratumOfPair) -> r.Stratum:
    table = None
    if stratum.left_out is None:
        options = work.question.options.crosstab
        table = crosstab_table(work.pair, stratum.table(), options)
    return r.Stratum(
        values=stratum.values,
        label=stratum.label,
        n=stratum.n,
        table=table,
        left_out=stratum.left_out,
    )


def _next_steps(work: CrosstabWork) -> list[NextStep]:
    question, groups = work.question, work.whole.groups
    explanatory, outcome = work.pair.original
    steps = []
    if groups is None:
        if len(outcome.categories) == 2:
            steps += [
                NextStep(
                    label=f"Take “{c.label}” as the event", question=question.with_event(c.value)
                )
                for c in outcome.categories
            ]
    else:
        others = [c for c in outcome.categories if c.value not in groups.event]
        label = " or ".join(category.label for category in others)
        turned = question.with_event(*(category.value for category in others))
        steps.append(NextStep(label=f"Turn it round: {outcome.title}: {label}", question=turned))
        far = groups.clearest
        steps.append(
            NextStep(
                label=f"Compare against {far.label}", question=question.with_reference(far.value)
            )
        )
    swapped = question.changed(
        outcome=Outcome(variable=explanatory.name), vary_with=(Term(variable=outcome.name),)
    )
    label = f"Swap: how does {explanatory.title} vary with {outcome.title.rstrip('?')}?"
    steps.append(NextStep(label=label, question=swapped))
    return steps


def _unavailable(work: CrosstabWork) -> list[Unavailable]:
    """What does not exist for this table, and why."""
    whole, groups = work.whole, work.whole.groups
    missing = []
    if work.question.is_designed:
        missing += [
            ("exact", "There is no exact test of a weighted sample: use Rao and Scott’s F test."),
            (
                "mantel_haenszel",
                "Pooling over strata has no design-based form here: allow for them in a model.",
            ),
            (
                "likelihood_ratio",
                "A weighted sample has no likelihood: use Rao and Scott’s F test.",
            ),
            ("expected_counts", "Expected counts are those of counts, not of weights."),
        ]
    if groups is None:
        reason = "No answer is marked as the event, or everyone or nobody has it."
        missing.append(("groups", reason))
    elif not groups.shares_have_meaning:
        reason = "In a case–control study the share of cases was set by the researcher."
        keys = ("risk_ratio", "risk_difference", "number_needed")
        missing += [(key, reason) for key in (*keys, "population_attributable_fraction")]
    if groups is not None and len(whole.rows) != 2:
        reason = "There are more than two groups: each is compared with the reference."
        missing.append(("two_groups", reason))
    for comparison in groups.comparisons if groups else ():
        pair = against(comparison.label, groups.reference_label) if groups else ""
        for key, effect in (
            ("odds ratio", comparison.odds_ratio),
            ("ratio of shares", comparison.risk_ratio),
        ):
            if effect is not None and effect.ci is None:
                reason = f"{pair}: nothing tells how much the {key} varies."
                if effect.counted is not None:
                    reason = (
                        f"{pair}: a cell is zero, which leaves the {key} without a usual interval."
                    )
                missing.append((f"{key.replace(' ', '_')}.ci", reason))
    return [Unavailable(quantity=key, reason=reason) for key, reason in missing]


def quantities(results: r.CrosstabResults) -> list[Quantity]:
    whole, found = results.whole, []
    if whole.groups is not None:
        if whole.groups.shares_have_meaning:
            for share in whole.groups.groups:
                found.append(quantity_of(share))
        for each in whole.groups.comparisons:
            if each.odds_ratio.estimate is not None:
                found.append(odds_ratio_of(each, whole.groups.reference_label))
    found.append(
        Quantity(
            label="Cramér’s V", unit="strength", estimate=whole.cramers_v, ci=whole.cramers_v_ci
        )
    )
    if whole.test is not None:
        label = "Test of no association, p"
        found.append(Quantity(label=label, unit="p", estimate=whole.test.p, ci=None))
    return found


def _has_exact(work: CrosstabWork) -> bool:
    return work.whole.exact is not None


def _is_recast(work: CrosstabWork) -> bool:
    return bool(work.question.options.categories)


CROSSTAB = Lens[CrosstabWork](
    name="crosstab",
    title="Crosstab",
    uses=frozenset({"vary_with", "within"}),
    gives="table",
    results=r.CrosstabResults,
    opened=r.CrosstabPanels,
    refusal=refusal_of_pair,
    work=work_on,
    sheet=sheet,
    panels=(
        Panel("measures", "How strong", "measures of association with intervals", panels.measures),
        Panel("tests", "Every test", "by name, with its own p", panels.tests),
        Panel(
            "two_groups",
            "Two groups",
            "exact test and odds ratio, difference, number needed",
            panels.two_groups,
            is_there=panels.has_two_groups,
        ),
        Panel(
            "twice",
            "Before and after",
            "the same people twice: who changed, and how far both agree",
            twice,
            is_there=is_twice,
        ),
        Panel(
            "occasions",
            "The same people each time",
            "several yes/no answers: as common in each, and which two differ",
            occasions,
            is_there=has_occasions,
        ),
        Panel(
            "exact",
            "Exact test",
            "for sparse tables",
            panels.exact_test,
            is_there=panels.is_counted,
            opens=_has_exact,
        ),
        Panel("where", "Where it lies", "cells that stand out, every two groups", panels.where),
        Panel(
            "map",
            "Map",
            "which groups are answered alike",
            panels.correspondence_map,
            is_there=panels.has_map,
        ),
        Panel(
            "categories",
            "Categories for this question only",
            "leave out, combine, order, no answer as a category",
            opens=_is_recast,
        ),
        Panel("level", "Intervals", "at what level"),
    ),
    needs=needed,
    quantities=quantities,
    tables=tables,
    prints=("measures",),
    methods=methods,
)
