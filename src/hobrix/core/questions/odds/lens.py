"""The Odds model lens: does the outcome still vary with it, allowing for the others?"""

import math

import numpy as np

from hobrix.core.data import CountsColumn, Frame
from hobrix.core.data.subset import Mask
from hobrix.core.questions.answer import Counted, NextStep
from hobrix.core.questions.estimates import Quantity, Unavailable
from hobrix.core.questions.lens import Lens, Likelihood, Panel, Refusal, Sheet, has_replicates
from hobrix.core.questions.modelling.answers import are_told_apart
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.steps import gained
from hobrix.core.questions.modelling.terms import ModelTerm
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.checks import odds_checks
from hobrix.core.questions.odds.coefficients_panel import coefficients
from hobrix.core.questions.odds.fit_panel import fit
from hobrix.core.questions.odds.log_link_panel import has_log_link, log_link_ratios
from hobrix.core.questions.odds.opened import OddsPanels
from hobrix.core.questions.odds.printed import PANELS, methods, tables
from hobrix.core.questions.odds.profile_panel import has_probabilities, profile
from hobrix.core.questions.odds.reading import moved, odds_reading, odds_write_up
from hobrix.core.questions.odds.rows import average_differences, terms_of
from hobrix.core.questions.odds.shares_panel import has_shares, shares
from hobrix.core.questions.odds.sorting_panel import is_counted, sorts
from hobrix.core.questions.odds.steps_panel import steps
from hobrix.core.questions.odds.unusual_panel import can_look_at_rows, unusual, without_rows
from hobrix.core.questions.odds.within import strata
from hobrix.core.questions.odds.work import OddsWork, work_on
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.slots import refuse_without_event
from hobrix.core.questions.thresholds import ENOUGH_EVENTS, FEW_EVENTS
from hobrix.core.questions.wording import against


def refusal(question: Question, frame: Frame) -> Refusal | None:
    """A numeric outcome beside a counts column is events out of trials."""
    if question.outcome is None:
        return Refusal("Choose the outcome: what is the question about?", "outcome", is_open=True)
    if not question.vary_with:
        return Refusal("Choose what the outcome may vary with.", "vary_with", is_open=True)
    outcome = frame.variable(question.outcome.variable, "outcome")
    if outcome.kind == "text":
        why = f"{outcome.title} holds free text: read it as categories in the Codebook."
        return Refusal(why, "outcome")
    if outcome.kind == "numeric":
        if isinstance(question.counted_by, CountsColumn):
            return None
        why = (
            f"{outcome.title} is numeric. Odds are those of an event: cut it in two in the "
            "Codebook. (Where it counts events, say in Data which column counts the rows.)"
        )
        return Refusal(why, "outcome")
    missing = refuse_without_event(question, frame, "Odds are those of an event")
    return None if missing is None else Refusal(missing, "outcome", is_open=True)


def sheet(work: OddsWork) -> Sheet:
    within, common, same = strata(work)
    results = r.OddsResults(
        whole=_model(work),
        strata=within,
        common=common,
        same=same,
        without=without_rows(work),
        event_label=work.asked.event_label,
    )
    counted = _counted(work)
    return Sheet(
        counted=counted,
        results=results,
        checks=odds_checks(work, results, counted),
        reading=odds_reading(work, results),
        next_steps=_next_steps(work),
        write_up=odds_write_up(work, results),
        unavailable=_unavailable(work),
        moved=moved(results.whole),
        replicates_lost=0 if work.model.weighted is None else work.model.weighted.replicates_lost,
    )


def _model(work: OddsWork) -> r.OddsModel:
    model = work.model
    k = model.data.design.shape[1]
    differences = average_differences(model) if work.has_probabilities else ()
    return r.OddsModel(
        method=model.asked.method,
        limits="profile" if model.is_profiled else "wald",
        n=model.n,
        events=model.events,
        share=model.share,
        covariate_patterns=len(model.data.trials),
        parameters=k,
        terms=terms_of(work, differences),
        test=model.model_test(),
        adjusted_wald=model.wald_f(range(1, k)) if model.weighted else None,
        average_marginal_effects=differences,
        separation="none" if model.separation is None else model.separation.kind,
        separated=_separated(work),
        likelihood=_likelihood(work),
    )


def _separated(work: OddsWork) -> tuple[r.SeparatedPart, ...]:
    """Coefficients without a finite maximum likelihood estimate, the intercept left out."""
    separation = work.model.separation
    if separation is None:
        return ()
    named = column_names(work.model.terms)
    return tuple(
        r.SeparatedPart(term=name, level=level, label=label, maximum_likelihood=fate)
        for (name, level, label), fate in zip(named, separation.fates, strict=True)
        if fate != "finite" and name != "intercept"
    )


def _likelihood(work: OddsWork) -> r.Likelihood | None:
    model = work.model
    if model.weighted is not None:
        return None
    n, k = model.n, model.data.design.shape[1]
    ll, null = model.found.log_likelihood, model.null
    cox_snell = -math.expm1(2 * (null - ll) / n)
    of_maximum: dict[str, float | None] = {
        "aic": -2 * ll + 2 * k,
        "bic": -2 * ll + k * math.log(n),
        "mcfadden": 1 - ll / null,
        "mcfadden_adjusted": 1 - (ll - k) / null,
        "cox_snell": cox_snell,
        "nagelkerke": -cox_snell / math.expm1(2 * null / n),
    }
    if model.is_firth:
        of_maximum = dict.fromkeys(of_maximum)
    others = model.data.trials - model.data.events
    # Mean predicted probability of those with the event less that of the others (Tjur 2009).
    with_event = float(model.data.events @ model.fitted) / model.events
    return r.Likelihood(
        log_likelihood=ll,
        log_likelihood_null=null,
        penalised_log_likelihood=model.found.maximum if model.is_firth else None,
        deviance=-2 * ll,
        deviance_null=-2 * null,
        tjur=with_event - float(others @ model.fitted) / (n - model.events),
        **of_maximum,
    )


def _counted(work: OddsWork) -> Counted:
    """Complete cases; the reasons name each variable by itself, a row may lack several."""
    rows, asked, frame = work.sampling.rows, work.asked, work.frame
    inside = np.ones(frame.rows, dtype=bool) if rows.mask is None else rows.mask

    def people(where: Mask) -> float:
        return float(asked.trials[where & inside].sum())

    gone = np.zeros(frame.rows, dtype=bool)
    for mask in asked.left_out.values():
        gone |= mask
    reasons = [(f"no answer to {asked.outcome.title}", people(~asked.answered))]
    for name, missing in asked.missing.items():
        reasons.append((f"no answer to {asked.variables[name].title}", people(missing & ~gone)))
    if work.strata is not None:
        titles = " and ".join(frame.variables[name].title for name in work.question.within)
        reasons.append((f"no answer to {titles}", people(work.strata < 0)))
    reasons += [
        (f"left out of this question by {title}", people(mask))
        for title, mask in asked.left_out.items()
    ]
    return rows.strip(people(inside), work.model.n, reasons, "answered all")


def _unavailable(work: OddsWork) -> list[Unavailable]:
    found = []
    if not work.has_probabilities:
        reason = "In a case–control study the share with the event was set by the design."
        found += [(key, reason) for key in ("average_marginal_effects", "predictions")]
    if work.question.is_designed:
        found += [
            ("likelihood_ratio", "A weighted sample has no likelihood: terms have Wald tests."),
            ("likelihood", "It needs a likelihood, which a weighted sample has not."),
            ("hosmer_lemeshow", "Its distribution is not known under a design."),
            ("sorting", "How well a weighted model sorts is not worked out."),
            ("unusual", "Unusual rows are looked at without the design."),
        ]
    elif not work.frame.has_own_rows:
        reason = "Rows of data that stay where they are were counted there, not fetched one by one."
        found.append(("unusual", reason))
    if work.model.is_firth and not work.question.is_designed:
        reason = "It needs the likelihood at its maximum; this model maximises a penalised one."
        keys = ("aic", "bic", "mcfadden", "mcfadden_adjusted", "cox_snell", "nagelkerke")
        found += [(key, reason) for key in (*keys, "linearity")]
    return [Unavailable(quantity=key, reason=reason) for key, reason in found]


def _next_steps(work: OddsWork) -> list[NextStep]:
    question, model, steps_ = work.question, work.model, []
    alone = tuple(t for t in question.vary_with if t.together_with is None)
    if work.options.method == "firth" and (
        model.separation is None or model.separation.kind == "none"
    ):
        plain = question.with_options("odds", method="maximum_likelihood")
        steps_.append(NextStep(label="By plain maximum likelihood", question=plain))
    if question.allowing_for:
        unadjusted = question.changed(allowing_for=(), vary_with=alone)
        steps_.append(NextStep(label="Without allowing for anything", question=unadjusted))
    plain_terms = [term for term in model.terms if not term.is_interaction]
    lead = next((term for term in plain_terms if term.role == "vary_with"), None)
    other = next((term for term in plain_terms if term is not lead), None)
    if (
        lead
        and other
        and len(plain_terms) == len(model.terms)
        and _can_interact(model, lead, other)
    ):
        together = Term(variable=lead.name, together_with=other.name)
        asked = question.changed(vary_with=(*question.vary_with, together))
        label = f"Does {lead.title} differ by {other.title}? Let them act together"
        steps_.append(NextStep(label=label, question=asked))
    if _has_every_answer(work):
        every = question.with_event()
        label = f"Every answer to {work.asked.outcome.title}, without an event"
        steps_.append(NextStep(label=label, question=every, through="model of every answer"))
    if lead is not None and not lead.parts[0].is_numeric and work.asked.outcome.is_categorical:
        crossed = question.changed(allowing_for=(), vary_with=alone)
        steps_.append(NextStep(label="Look at the table", question=crossed, through="table"))
    return steps_


def _has_every_answer(work: OddsWork) -> bool:
    """Whether the outcome has more answers than two, and each can have odds ratios of its own."""
    asked, answers = work.asked, len(work.asked.outcome.categories)
    if answers < 3 or work.strata is not None or not asked.outcome.is_categorical:
        return False
    codes = work.frame.categorical(asked.outcome.name, "outcome").codes
    present, codes = np.unique(codes[work.used], return_inverse=True)
    everybody = np.full(work.frame.rows, -1)
    everybody[work.used] = codes
    coefficients = (len(present) - 1) * work.model.data.design.shape[1]
    return len(present) > 2 and not are_told_apart(
        asked, work.used, everybody, len(present), coefficients
    )


def _can_interact(model: Fitted, one: ModelTerm, other: ModelTerm) -> bool:
    """Whether an interaction can be estimated: events enough for its coefficients, and with two
    categories some with and some without the event in every combination."""
    more = len(one.column_levels) * len(other.column_levels)
    fewer = min(model.events, model.n - model.events)
    if fewer < ENOUGH_EVENTS * (len(model.found.coefficients) - 1 + more):
        return False
    codes = [
        model.prepared.values[term.name].astype(np.int64)
        for term in (one, other)
        if not term.parts[0].is_numeric
    ]
    if not codes:
        return True
    place = np.ravel_multi_index(codes, [int(code.max()) + 1 for code in codes])
    data = model.data
    with_event = np.bincount(place, weights=data.events)
    without = np.bincount(place, weights=data.trials - data.events)
    combinations = math.prod(len(np.unique(code)) for code in codes)
    return int(np.count_nonzero(np.minimum(with_event, without) >= FEW_EVENTS)) == combinations


def needs(question: Question) -> tuple[str, ...]:
    names = [question.outcome.variable] if question.outcome else []
    names += [term.variable for term in (*question.vary_with, *question.allowing_for)]
    sets = [question.matched] if question.matched else []
    return tuple(dict.fromkeys([*names, *question.within, *sets]))


def quantities(results: r.OddsResults) -> list[Quantity]:
    return [
        Quantity(
            label=f"{term.title}: {row.label}" + (f" ({row.given})" if row.given else ""),
            unit="ratio",
            estimate=row.odds_ratio,
            ci=row.ci,
            measure="odds ratio",
            about=_contrast(term, row),
            variable=term.title,
            n=row.n,
            events=row.events,
            p=row.p,
        )
        for term in sorted(results.whole.terms, key=lambda term: term.role != "vary_with")
        for row in term.rows
    ]


def _contrast(term: r.OddsTerm, row: r.OddsRow) -> str:
    label = against(row.label, term.reference) if term.reference else row.label
    return f"{label} ({row.given})" if row.given else label


def likelihood(results: r.OddsResults) -> Likelihood | None:
    """That of the whole model, where it was maximised and nothing is stratified."""
    whole = results.whole
    if whole.likelihood is None or whole.method != "maximum_likelihood" or results.strata:
        return None
    return Likelihood(whole.likelihood.log_likelihood, whole.parameters, "the event")


ODDS = Lens[OddsWork](
    name="odds",
    title="Odds model",
    uses=frozenset({"vary_with", "allowing_for", "within", "matched"}),
    gives="model",
    results=r.OddsResults,
    opened=OddsPanels,
    refusal=refusal,
    work=work_on,
    sheet=sheet,
    panels=(
        Panel(
            "profile",
            "Try a profile",
            "predicted probability of somebody like this",
            profile,
            is_there=has_probabilities,
        ),
        Panel(
            "shares",
            "Ratios of shares",
            "how many times as common, with all else the same",
            shares,
            is_there=has_shares,
        ),
        Panel(
            "log_link",
            "Ratios of shares by a log link",
            "one ratio for each term, with robust errors",
            log_link_ratios,
            is_there=has_log_link,
        ),
        Panel("steps", "Step by step", "what each step gains", steps),
        Panel("fit", "How well it fits", "predicted against observed, bending", fit, checks=True),
        Panel(
            "sorting",
            "How well it sorts",
            "cut-off, sensitivity, area under the curve",
            sorts,
            is_there=is_counted,
        ),
        Panel(
            "unusual",
            "Unusual rows",
            "residuals, influence, the model without some",
            unusual,
            is_there=can_look_at_rows,
            checks=True,
        ),
        Panel("paper", "Table for a paper", "unadjusted and adjusted, to copy"),
        Panel(
            "categories",
            "Categories for this question only",
            "leave out, combine, no answer as a category",
        ),
        Panel("coefficients", "Coefficients", "log odds, intervals, equation", coefficients),
    ),
    needs=needs,
    quantities=quantities,
    likelihood=likelihood,
    tables=tables,
    prints=PANELS,
    methods=methods,
    takes_long=has_replicates,
    gained=gained,
)
