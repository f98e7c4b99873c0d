"""Tests of weighted samples, as answers give them: quantities named as in docs/methods.md."""

from hobrix.core.data import Frozen


class SurveyTest(Frozen):
    """A test on F(df1, df2)."""

    f: float
    df1: float
    df2: float
    p: float


class CorrectedTest(Frozen):
    """A statistic corrected for the design, on chi-square and, as is to be reported, as F."""

    statistic: float
    df: float
    p: float
    f: float
    df1: float
    df2: float
    p_f: float

    @property
    def as_f(self) -> SurveyTest:
        return SurveyTest(f=self.f, df1=self.df1, df2=self.df2, p=self.p_f)


class RaoScottTest(Frozen):
    mean_generalised_deff: float
    squared_cv_of_generalised_deffs: float
    first_order: CorrectedTest
    second_order: CorrectedTest


class WaldTest(Frozen):
    """W as chi-square, as F on the design degrees of freedom and, as is to be reported, adjusted to
    those that d contrasts leave."""

    chi_square: float
    f: float
    df1: int
    df2: int
    p: float
    adjusted_f: float
    adjusted_df1: int
    adjusted_df2: int
    adjusted_p: float

    @property
    def as_f(self) -> SurveyTest:
        return SurveyTest(
            f=self.adjusted_f, df1=self.adjusted_df1, df2=self.adjusted_df2, p=self.adjusted_p
        )
