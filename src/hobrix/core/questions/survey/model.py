"""The Odds model of a weighted sample, beside the one that counts each row once."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.separation import separation
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.odds import coefficients as told
from hobrix.core.questions.odds import profiles
from hobrix.core.questions.odds.fitted import Fitted, exp
from hobrix.core.questions.odds.options import OddsOptions, options_of
from hobrix.core.questions.odds.prepare import Asked, Prepared, ask, prepare
from hobrix.core.questions.odds.results import MarginalEffect
from hobrix.core.questions.odds.steps import step_groups
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey.model_results import (
    SurveyCoefficient,
    SurveyFit,
    SurveyFitGroup,
    SurveyModel,
    SurveyModelStrata,
    SurveyModelStratum,
    SurveyOddsRow,
    SurveyOddsTerm,
    SurveyStep,
    SurveyStratumRatio,
)
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.tables import wald
from hobrix.core.questions.survey.tested import SurveyTest, WaldTest
from hobrix.core.survey import logistic
from hobrix.core.survey.logistic import Stages, Tell
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.replicates import TooFewReplicates


@dataclass(frozen=True)
class AskedModel:
    """The slots of a question and the rows of the sample that answered them, shape (rows,)."""

    asked: Asked
    used: Mask
    options: OddsOptions
    confidence: float
    sample: Sample
    stages: Stages


@dataclass(frozen=True)
class WeightedModel:
    """A fitted model: ``found.found`` holds weighted estimates with design-based errors."""

    found: Fitted
    weighted: logistic.WeightedFit
    totals: PatternTotals
    sample: Sample

    @property
    def replicates_lost(self) -> int:
        """Replicates without a finite estimate."""
        return int(np.isnan(self.weighted.spread).any(axis=1).sum())

    @property
    def of_population(self) -> Fitted:
        """The same model with the people each pattern stands for instead of those sampled."""
        return replace(self.found, prepared=replace(self.found.prepared, data=self.totals.patterns))


def ask_model(question: Question, frame: Frame, sample: Sample, tell: Tell) -> AskedModel:
    """Read the slots; raises QuestionError. Every step but the last is a fit of its own, and so is
    every variable by itself where there are several."""
    options, rows = options_of(question), Rows(question, frame)
    asked = ask(question, frame, rows, options)
    used = asked.complete(rows)
    roles = {role for role, _ in asked.terms}
    alone = sum(term.together_with is None for _, term in asked.terms)
    stages = Stages(tell, len(roles) + len(options.new_step_at) + (alone if alone > 1 else 0))
    return AskedModel(asked, used, options, question.confidence, sample, stages)


def fit_model(given: AskedModel, prepared: Prepared) -> WeightedModel:
    """Fit what was prepared.

    Raises:
        QuestionError: the weighted model has no finite estimate.
    """
    sample = given.sample
    pattern = np.full(len(given.used), -1, dtype=np.int64)
    pattern[prepared.rows] = prepared.pattern
    outcome = (sample.of(given.asked.events) > 0).astype(np.float64)
    totals = PatternTotals.count(sample.design, prepared.data.design, sample.of(pattern), outcome)
    try:
        weighted = logistic.fit(totals, given.stages.part)
    except (ml.NotFinite, ml.Collinear):
        message = "With these weights the model has no finite estimate: leave a variable out."
        raise QuestionError(message, slot="vary_with") from None
    given.stages.next()
    if weighted.fit.on_the_edge and separation(prepared.data).kind != "none":
        message = "The outcome is told apart, so the odds ratios have no end."
        raise QuestionError(message, slot="vary_with")

    def refit(columns: list[int]) -> ml.Fit:
        again = logistic.fit(totals.keep(columns), given.stages.part).fit
        given.stages.next()
        return again

    nu = sample.design.df
    found = Fitted(prepared, given.options, given.confidence, weighted.fit, None, nu, refit)
    return WeightedModel(found, weighted, totals, sample)


def survey_model(
    given: AskedModel, *, has_probabilities: bool
) -> tuple[SurveyModel, WeightedModel]:
    """Pseudo-maximum likelihood on the rows with a weight; limits and tests on t(design df).
    Probabilities have no meaning in a case-control study.

    Raises:
        QuestionError: the weighted model has no finite estimate.
    """
    prepared = prepare(given.asked, given.used)
    model = fit_model(given, prepared)
    try:
        plain = ml.fit(prepared.data)
    except (ml.NotFinite, ml.Collinear):
        message = "Counted each row once, the model has no finite estimate: leave a variable out."
        raise QuestionError(message, slot="vary_with") from None
    found, people = model.found, model.totals.patterns
    known = profiles.slots(found) if has_probabilities else ()
    effects = told.marginal_effects(model.of_population) if has_probabilities else ()
    result = SurveyModel(
        n=found.n,
        events=found.events,
        share=float(people.events.sum() / people.trials.sum()),
        coefficients=_coefficients(model, plain),
        terms=_terms(model, plain, effects),
        average_marginal_effects=effects,
        equation=told.equation(found),
        steps=_steps(model, given),
        model=wald_of(model, range(1, len(plain.coefficients))),
        fit=_fit(model),
        slots=known,
        predictions=profiles.predictions(found, known) if has_probabilities else (),
        curve=profiles.curve(found) if has_probabilities else None,
    )
    return result, model


def wald_of(model: WeightedModel, columns: Sequence[int]) -> WaldTest | None:
    """Are these coefficients 0? None where the design leaves no degree of freedom for it."""
    return wald(logistic.wald_test(model.found.found, columns, model.sample.design.df))


def _coefficients(model: WeightedModel, plain: ml.Fit) -> tuple[SurveyCoefficient, ...]:
    coefficients = []
    for column, (term, level, label) in enumerate(told.column_names(model.found.terms)):
        at = np.eye(len(plain.coefficients))[column]
        here, at_95 = model.found.estimate(at), model.found.estimate(at, 0.95).limits
        is_finite = math.isfinite(at_95.low) and math.isfinite(at_95.high)
        coefficients.append(
            SurveyCoefficient(
                term=term,
                level=level,
                label=label,
                log_odds=here.log_odds,
                se=here.se,
                t=here.z,
                df=model.sample.design.df,
                p=here.p,
                odds_ratio=exp(here.log_odds),
                ci=told.ratios(here.limits),
                ci_95=told.ratios(at_95),
                log_odds_ci_95=(at_95.low, at_95.high) if is_finite else None,
                unweighted_odds_ratio=exp(float(plain.coefficients[column])),
            )
        )
    return tuple(coefficients)


def _terms(
    model: WeightedModel, plain: ml.Fit, effects: Sequence[MarginalEffect]
) -> tuple[SurveyOddsTerm, ...]:
    """Every term with its test and odds ratios, those that count each row once beside them."""
    # By plain maximum likelihood, whatever was asked for.
    unweighted = replace(model.found, found=plain, df=None, options=OddsOptions())
    found = []
    for term, at in zip(model.found.terms, model.found.places, strict=True):
        rows = told.with_differences(term, told.rows_of(model.found, term, at), effects)
        beside = [
            unweighted.estimate(contrast) for *_, contrast in told.contrasts_of(model.found, term)
        ]
        found.append(
            SurveyOddsTerm(
                **vars(told.described(model.found, term)),
                wald=wald_of(model, at),
                rows=tuple(
                    SurveyOddsRow(
                        **vars(row),
                        unweighted=exp(other.log_odds),
                        unweighted_ci=told.ratios(other.limits),
                    )
                    for row, other in zip(rows, beside, strict=True)
                ),
            )
        )
    return tuple(found)


def _steps(model: WeightedModel, given: AskedModel) -> tuple[SurveyStep, ...]:
    """Each step's terms tested in the model up to it; the last step is the whole model."""
    found, columns, steps = model.found, [0], []
    nu = model.sample.design.df
    groups = step_groups(found.terms, given.options.new_step_at)
    for group in groups if len(groups) > 1 else []:
        terms = [found.terms[i] for i in group]
        new = [column for i in group for column in found.places[i]]
        columns = sorted([*columns, *new])
        is_whole = len(columns) == found.data.design.shape[1]
        fit = found.found if is_whole else found.alone(columns[1:])
        at = [columns.index(column) for column in new]
        steps.append(
            SurveyStep(
                step=terms[0].role,
                titles=tuple(term.title for term in terms),
                wald=wald(logistic.wald_test(fit, at, nu)),
            )
        )
    return tuple(steps)


def _fit(model: WeightedModel) -> SurveyFit | None:
    try:
        found = logistic.fit_test(model.totals, model.found.found, model.found.data.trials)
    except TooFewReplicates:
        return None
    if found is None:
        return None
    groups = zip(found.n.tolist(), found.observed.tolist(), found.predicted.tolist(), strict=True)
    return SurveyFit(
        groups=tuple(SurveyFitGroup(n=n, observed=o, predicted=p) for n, o, p in groups),
        test=SurveyTest(f=found.f, df1=found.df1, df2=found.df2, p=found.p),
    )


def model_strata(
    given: AskedModel,
    whole: WeightedModel,
    codes: np.ndarray,
    labels: list[tuple[tuple[str, ...], str]],
) -> SurveyModelStrata:
    """The same model within each stratum, everybody else staying in the design; ``codes`` of shape
    (rows,) name the strata."""
    keys = [
        (term.name, level, name, label)
        for term in whole.found.terms
        for name, level, label, _ in told.contrasts_of(whole.found, term)
    ]
    strata, models = [], []
    for code, (values, label) in enumerate(labels):
        here = given.used & (codes == code)
        if not here.any():
            continue
        model, left_out = None, None
        try:
            like = whole.found.parts
            model = fit_model(replace(given, used=here), prepare(given.asked, here, like))
        except QuestionError as refused:
            left_out = str(refused)
        except TooFewReplicates:
            left_out = "Hardly a replicate has an estimate here."
        models.append(model)
        known = {}
        if model is not None:
            for term in model.found.terms:
                for name, level, called, contrast in told.contrasts_of(model.found, term):
                    each = model.found.estimate(contrast)
                    known[(term.name, level, name, called)] = SurveyStratumRatio(
                        odds_ratio=exp(each.log_odds), ci=told.ratios(each.limits), p=each.p
                    )
        strata.append(
            SurveyModelStratum(
                values=values,
                label=label,
                n=float(given.asked.trials[here].sum()),
                ratios=tuple(known.get(key) for key in keys) if model else (),
                left_out=left_out,
            )
        )
    same, reason = _same(whole, models)
    return SurveyModelStrata(strata=tuple(strata), same=same, reason=reason)


def _same(
    whole: WeightedModel, models: list[WeightedModel | None]
) -> tuple[SurveyTest | None, str | None]:
    fitted = [model for model in models if model is not None]
    wide = whole.found.data.design.shape[1]
    if len(fitted) < 2 or len(fitted) < len(models):
        return None, "Not every stratum could be fitted."
    if any(model.found.data.design.shape[1] != wide for model in fitted):
        return None, "Some strata lack a category that others have."
    try:
        test = logistic.same_everywhere(
            whole.sample.design, [model.weighted for model in fitted], range(1, wide)
        )
    except TooFewReplicates:
        return None, "Hardly a replicate has an estimate in every stratum."
    found = wald(test)
    if found is None:
        return None, "There are too few clusters for so many coefficients."
    return found.as_f, None
