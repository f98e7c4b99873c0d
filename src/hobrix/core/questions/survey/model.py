"""The Odds model of a weighted sample, beside the one that counts each row once."""

import math
from dataclasses import dataclass, replace

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.odds import profiles
from hobrix.core.questions.odds.coefficients import column_names, contrasts_of
from hobrix.core.questions.odds.fitted import Fitted, exp
from hobrix.core.questions.odds.options import OddsOptions, options_of
from hobrix.core.questions.odds.prepare import Asked, Prepared, ask, prepare
from hobrix.core.questions.odds.steps import step_groups
from hobrix.core.questions.odds.terms import ModelTerm
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.tables import wald
from hobrix.core.survey import logistic
from hobrix.core.survey.logistic import Stages, Tell
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.replicates import TooFewReplicates
from hobrix.core.tables.interval import normal_quantile


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

    def ratio(self, contrast: np.ndarray) -> tuple[float, float, float, tuple[float, float]]:
        """Log odds ratio, error, p and limits of the odds ratio, on t of the design."""
        design = self.sample.design
        value, se = ml.estimate_of(self.found.found, contrast)
        reach = design.t_quantile(self.found.confidence) * se
        p = design.p_of(value / se if se else 0.0)
        return value, se, p, (_ratio(value - reach), _ratio(value + reach))


def ask_model(question: Question, frame: Frame, sample: Sample, tell: Tell) -> AskedModel:
    """Read the slots; raises QuestionError. Every step but the last is a fit of its own."""
    options, rows = options_of(question), Rows(question, frame)
    asked = ask(question, frame, rows, options)
    used = asked.complete(rows)
    roles = {role for role, _ in asked.terms}
    stages = Stages(tell, len(roles) + len(options.new_step_at))
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
    found = Fitted(prepared, given.options, given.confidence, weighted.fit, None, sample.design.df)
    return WeightedModel(found, weighted, totals, sample)


def survey_model(given: AskedModel) -> tuple[r.SurveyModel, WeightedModel]:
    """Pseudo-maximum likelihood on the rows with a weight; limits and tests on t(design df).

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
    found, nu = model.found, model.sample.design.df
    tests = [
        r.SurveyTermTest(term=term.name, title=term.title, wald=test)
        for term, at in zip(found.terms, found.places, strict=True)
        if (test := wald(logistic.wald_test(found.found, at, nu))) is not None
    ]
    every = range(1, len(plain.coefficients))
    known = profiles.slots(found)
    told = r.SurveyModel(
        n=found.n,
        coefficients=_coefficients(model, plain),
        rows=_rows(model, plain),
        terms=tuple(tests),
        steps=_steps(model, given),
        model=wald(logistic.wald_test(found.found, every, nu)),
        fit=_fit(model),
        slots=known,
        predictions=profiles.predictions(found, known),
        curve=profiles.curve(found),
    )
    return told, model


def _coefficients(model: WeightedModel, plain: ml.Fit) -> tuple[r.SurveyCoefficient, ...]:
    coefficients = []
    for column, (term, level, label) in enumerate(column_names(model.found.terms)):
        value, se, p, ci = model.ratio(np.eye(len(plain.coefficients))[column])
        coefficients.append(
            r.SurveyCoefficient(
                term=term,
                level=level,
                label=label,
                log_odds=value,
                se=se,
                t=value / se if se else 0.0,
                p=p,
                odds_ratio=exp(value),
                ci=ci,
                unweighted_odds_ratio=exp(float(plain.coefficients[column])),
            )
        )
    return tuple(coefficients)


def _in_order(model: Fitted) -> list[ModelTerm]:
    """Variables of interest first."""
    return sorted(model.terms, key=lambda term: term.role != "vary_with")


def _rows(model: WeightedModel, plain: ml.Fit) -> tuple[r.SurveyTerm, ...]:
    z = normal_quantile(model.found.confidence)
    rows = []
    for each in _in_order(model.found):
        lead = each.parts[0]
        against = None if lead.reference is None else lead.variable.label_of(lead.reference)
        for given, _, label, contrast in contrasts_of(model.found, each):
            value, _, p, ci = model.ratio(contrast)
            other, error = ml.estimate_of(plain, contrast)
            rows.append(
                r.SurveyTerm(
                    term=each.name,
                    title=each.title,
                    label=label,
                    reference=against,
                    given=given,
                    odds_ratio=exp(value),
                    ci=ci,
                    p=p,
                    unweighted=exp(other),
                    unweighted_ci=(_ratio(other - z * error), _ratio(other + z * error)),
                )
            )
    return tuple(rows)


def _steps(model: WeightedModel, given: AskedModel) -> tuple[r.SurveyStep, ...]:
    """Each step's terms tested in the model up to it; the last step is the whole model."""
    found, columns, steps = model.found, [0], []
    nu = model.sample.design.df
    groups = step_groups(found.terms, given.options.new_step_at)
    for group in groups if len(groups) > 1 else []:
        terms = [found.terms[i] for i in group]
        new = [column for i in group for column in found.places[i]]
        columns = sorted([*columns, *new])
        fit = found.found
        if len(columns) < found.data.design.shape[1]:
            fit = logistic.fit(model.totals.keep(columns), given.stages.part).fit
            given.stages.next()
        at = [columns.index(column) for column in new]
        steps.append(
            r.SurveyStep(
                step=terms[0].role,
                titles=tuple(term.title for term in terms),
                wald=wald(logistic.wald_test(fit, at, nu)),
            )
        )
    return tuple(steps)


def _fit(model: WeightedModel) -> r.SurveyFit | None:
    try:
        found = logistic.fit_test(model.totals, model.found.found, model.found.data.trials)
    except TooFewReplicates:
        return None
    if found is None:
        return None
    groups = zip(found.n.tolist(), found.observed.tolist(), found.predicted.tolist(), strict=True)
    return r.SurveyFit(
        groups=tuple(r.SurveyFitGroup(n=n, observed=o, predicted=p) for n, o, p in groups),
        test=r.SurveyTest(f=found.f, df1=found.df1, df2=found.df2, p=found.p),
    )


def model_strata(
    given: AskedModel,
    whole: WeightedModel,
    codes: np.ndarray,
    labels: list[tuple[tuple[str, ...], str]],
) -> r.SurveyModelStrata:
    """The same model within each stratum, everybody else staying in the design; ``codes`` of shape
    (rows,) name the strata."""
    keys = [
        (term.name, level, name, label)
        for term in _in_order(whole.found)
        for name, level, label, _ in contrasts_of(whole.found, term)
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
                for name, level, called, contrast in contrasts_of(model.found, term):
                    value, _, p, ci = model.ratio(contrast)
                    ratio = r.SurveyStratumRatio(odds_ratio=exp(value), ci=ci, p=p)
                    known[(term.name, level, name, called)] = ratio
        strata.append(
            r.SurveyModelStratum(
                values=values,
                label=label,
                n=float(given.asked.trials[here].sum()),
                ratios=tuple(known.get(key) for key in keys) if model else (),
                left_out=left_out,
            )
        )
    same, reason = _same(whole, models)
    return r.SurveyModelStrata(strata=tuple(strata), same=same, reason=reason)


def _same(
    whole: WeightedModel, models: list[WeightedModel | None]
) -> tuple[r.SurveyTest | None, str | None]:
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
    if test is None or test.adjusted_df2 < 1:
        return None, "There are too few clusters for so many coefficients."
    return wald(test), None


def _ratio(log_odds: float) -> float:
    """exp within what a double holds."""
    return math.exp(min(709.0, max(-709.0, log_odds)))
