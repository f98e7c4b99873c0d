"""The Odds model lens: does the outcome still vary with it, allowing for the others?"""

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.answer import Answer, Counted, NextStep
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.odds.checks import odds_checks
from hobrix.core.questions.odds.fitted import Fitted, Separated, fit_model
from hobrix.core.questions.odds.model import explain, without_probabilities
from hobrix.core.questions.odds.options import OddsOptions, options_of
from hobrix.core.questions.odds.prepare import Asked, Prepared, ask, prepare
from hobrix.core.questions.odds.reading import odds_reading, odds_write_up
from hobrix.core.questions.odds.results import OddsPooled, OddsResults, OddsStratum
from hobrix.core.questions.odds.terms import places_of
from hobrix.core.questions.odds.within import strata
from hobrix.core.questions.quantities import Unavailable
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.questions.wording import listed


def answer_odds(question: Question, frame: Frame) -> Answer:
    """Answer through the Odds model lens.

    Raises:
        QuestionError: a slot is empty or cannot be used, the outcome is separated by the terms,
            or some of them say the same.
    """
    options = options_of(question)
    rows = Rows(question, frame)
    asked = ask(question, frame, rows, options)
    codes, labels = strata_codes(question, frame)
    used = asked.complete(rows)
    if codes is not None:
        used &= codes >= 0
        refuse_too_many(question, frame, len(np.unique(codes[used])))
    prepared = prepare(asked, used)
    model = _fitted(prepared, options, question.confidence)
    whole = explain(model)
    is_case_control = frame.study_design == "case_control"
    if is_case_control:
        whole = without_probabilities(whole)
    within: tuple[OddsStratum, ...] = ()
    pooled: OddsPooled | None = None
    if codes is not None:
        within, pooled = strata(model, asked, used, codes, labels)
    results = OddsResults(
        whole=whole,
        strata=within,
        pooled=pooled,
        event_label=asked.event_label,
        unavailable=_unavailable(model, is_case_control),
    )
    counted = _counted(question, frame, rows, asked, codes, model)
    titles = listed([frame.variables[name].title for name in question.within])
    return Answer(
        lens="odds",
        question=question,
        counted=counted,
        results=results,
        checks=odds_checks(question, frame, results, counted),
        reading=odds_reading(results, asked.outcome.title, question.confidence, titles),
        next_steps=tuple(_next_steps(question, model)),
        write_up=odds_write_up(results, asked.outcome.title, question.confidence),
    )


def _fitted(prepared: Prepared, options: OddsOptions, confidence: float) -> Fitted:
    try:
        return fit_model(prepared, options, confidence)
    except ml.Collinear as refused:
        raise QuestionError(_says_the_same(prepared, refused), slot="vary_with") from None
    except Separated as refused:
        raise QuestionError(
            _told_apart(prepared, refused),
            slot="vary_with",
            remedies=(("Take Firth’s penalised likelihood", {"method": "firth"}),),
        ) from None
    except ml.NotFinite:
        message = "The model does not settle on an estimate: choose fewer variables."
        raise QuestionError(message, slot="vary_with") from None


def _counted(
    question: Question,
    frame: Frame,
    rows: Rows,
    asked: Asked,
    codes: np.ndarray | None,
    model: Fitted,
) -> Counted:
    """Complete cases; the reasons name each variable by itself, a row may lack several."""
    inside = np.ones(frame.rows, dtype=bool) if rows.mask is None else rows.mask

    def people(where: Mask) -> float:
        return float(asked.trials[where & inside].sum())

    gone = np.zeros(frame.rows, dtype=bool)
    for mask in asked.left_out.values():
        gone |= mask
    reasons = [(f"no answer to {asked.outcome.title}", people(~asked.answered))]
    for name, missing in asked.missing.items():
        reasons.append((f"no answer to {asked.variables[name].title}", people(missing & ~gone)))
    if codes is not None:
        titles = " and ".join(frame.variables[name].title for name in question.within)
        reasons.append((f"no answer to {titles}", people(codes < 0)))
    reasons += [
        (f"left out of this question by {title}", people(mask))
        for title, mask in asked.left_out.items()
    ]
    return rows.strip(people(inside), model.n, reasons, "answered all")


def _says_the_same(prepared: Prepared, refused: ml.Collinear) -> str:
    titles = [
        term.title
        for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True)
        if set(at) & set(refused.columns)
    ]
    return (
        f"{listed(titles or ['One variable'])} can be worked out from the other variables of the "
        "model, so its odds ratio cannot be told apart. Leave one of them out."
    )


def _told_apart(prepared: Prepared, refused: Separated) -> str:
    """Which categories have no finite odds ratio, and what can be done."""
    found = refused.found
    whole = "completely" if found.kind == "complete" else "in part"
    ends = []
    for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True):
        for column, level in zip(at, term.column_levels, strict=True):
            if found.fates[column] == "finite" or level is None or term.is_interaction:
                continue
            inside = prepared.data.design[:, column] == 1
            events, trials = (
                float(side[inside].sum()) for side in (prepared.data.events, prepared.data.trials)
            )
            if events in (0.0, trials):
                label = term.parts[0].variable.label_of(level)
                who = "everybody" if events else "nobody"
                ends.append(f"in “{label}” ({term.title}) {who} has the event")
    titles = [
        term.title
        for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True)
        if any(found.fates[column] != "finite" for column in at)
    ]
    why = listed(ends[:3]) if ends else f"{listed(titles[:4])} together foretell it"
    return (
        f"{prepared.asked.outcome.title} is told apart {whole}: {why}. The odds ratio would be "
        "infinite. Combine that category with another, leave the variable out, or take Firth’s "
        "penalised likelihood."
    )


def _unavailable(model: Fitted, is_case_control: bool) -> tuple[Unavailable, ...]:
    found = []
    if is_case_control:
        reason = "In a case–control study the share with the event was set by the design."
        keys: tuple[str, ...] = ("average_marginal_effects", "predictions")
        found += [Unavailable(quantity=key, reason=reason) for key in keys]
    if model.options.method == "firth":
        reason = "It needs the likelihood at its maximum; this model maximises a penalised one."
        keys = ("aic", "bic", "mcfadden", "mcfadden_adjusted", "cox_snell", "nagelkerke")
        found += [Unavailable(quantity=key, reason=reason) for key in (*keys, "linearity")]
    return tuple(found)


def _next_steps(question: Question, model: Fitted) -> list[NextStep]:
    steps = []
    if question.allowing_for:
        alone = question.model_copy(
            update={
                "allowing_for": (),
                "vary_with": tuple(t for t in question.vary_with if t.together_with is None),
            }
        )
        steps.append(NextStep(label="Without allowing for anything", question=alone))
    plain = [term for term in model.terms if not term.is_interaction]
    lead = next((term for term in plain if term.role == "vary_with"), None)
    other = next((term for term in plain if term is not lead), None)
    if lead and other and len(plain) == len(model.terms):
        together = Term(variable=lead.name, together_with=other.name)
        asked = question.model_copy(update={"vary_with": (*question.vary_with, together)})
        label = f"Does {lead.title} differ by {other.title}? Let them act together"
        steps.append(NextStep(label=label, question=asked))
    crossed = question.model_copy(
        update={
            "lens": "crosstab",
            "allowing_for": (),
            "vary_with": tuple(t for t in question.vary_with if t.together_with is None),
        }
    )
    if lead is not None and not lead.parts[0].is_numeric:
        steps.append(NextStep(label="Look at the table", question=crossed))
    return steps
