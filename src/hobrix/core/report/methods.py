"""The methods paragraphs, from what was really asked."""

from collections.abc import Sequence

from hobrix.core.questions.lenses import BY_NAME
from hobrix.core.questions.wording import count, level, listed
from hobrix.core.report.answers import Printed, Source, tests_in

Asked = Sequence[tuple[Source, Printed]]

_DESIGNS = {
    "cross_sectional": "a cross-sectional survey",
    "cohort": "a cohort",
    "case_control": "a case–control study",
    "trial": "a trial",
}
# By how the name of a test begins; the longest that fits.
_SOURCES = {
    "chi-square test": "Pearson 1900",
    "likelihood-ratio": "Wilks 1938",
    "Wald test": "Wald 1943",
    "adjusted Wald test": "Korn and Graubard 1990",
    "Rao–Scott": "Rao and Scott 1984",
    "Fisher’s exact test": "Fisher 1935",
    "Fisher–Freeman–Halton": "Freeman and Halton 1951",
    "Cochran–Armitage": "Cochran 1954; Armitage 1955",
    "Breslow–Day–Tarone": "Tarone 1985",
    "linear-by-linear": "Mantel 1963",
    "Hosmer–Lemeshow": "Hosmer and Lemeshow 1980",
    "F test of mean residuals": "Archer and Lemeshow 2006",
}


def methods_paragraphs(asked: Asked, version: str) -> list[str]:
    """Who was asked, how they were counted, what was estimated and tested, and with what."""
    if not asked:
        return []
    parts = [
        " ".join([*_data(asked), *_weighting(asked), *_missing(asked)]),
        " ".join([*_estimates(asked), *_tests(asked), *_levels(asked)]),
        f"All analyses were made with Hobrix {version}; every number is tied to its question.",
    ]
    return [part for part in parts if part]


def _data(asked: Asked) -> list[str]:
    said = []
    sources = {source.data_set: source for source, _ in asked}
    for name, source in sources.items():
        frame = source.frame
        what = _DESIGNS.get(frame.study_design, "")
        rows = f"{count(frame.size)} {frame.noun.many if frame.size != 1 else frame.noun.one}"
        said.append(f"“{name}” holds {rows}{f' of {what}' if what else ''}.")
        if source.preparation:
            steps = len(source.preparation)
            noun = "step" if steps == 1 else "steps"
            said.append(f"It was prepared in {steps} {noun}, kept with the data.")
    return said


def _weighting(asked: Asked) -> list[str]:
    said: dict[str, None] = {}
    for source, printed in asked:
        sample = printed.answer.sample
        if sample is None:
            continue
        words = getattr(source.question.counted_by, "words", None)
        slots = words(source.frame.variables) if words else ""
        text = (
            f"Analyses under the survey design ({slots}) rest on {sample.drawn} and use "
            f"{sample.errors}, {count(sample.design_df)} degrees of freedom."
        )
        said[text] = None
    unweighted = sum(printed.answer.sample is None for _, printed in asked)
    if said and unweighted:
        noun = "analysis counts" if unweighted == 1 else "analyses count"
        said[f"{count(unweighted)} {noun} every row once, without weights."] = None
    return list(said)


def _missing(asked: Asked) -> list[str]:
    gone = [
        sum(each.n for each in printed.answer.counted.set_aside)
        / max(printed.answer.counted.in_subset, 1)
        for _, printed in asked
    ]
    text = (
        "Missing codes were not counted as answers. Each analysis uses the cases that answered all of its "
        "variables; nothing was imputed"
    )
    most = 100 * max(gone)
    if not most:
        return [f"{text}; no case was set aside."]
    return [f"{text}; it sets aside at most {most:.1f}% of those asked about."]


def _estimates(asked: Asked) -> list[str]:
    said: dict[str, None] = {}
    for _, printed in asked:
        said |= dict.fromkeys(BY_NAME[printed.answer.lens].methods(printed.answer))
    return list(said)


def _tests(asked: Asked) -> list[str]:
    names: dict[str, None] = {}
    for _, printed in asked:
        for part in (printed.answer.results, printed.answer.opened):
            names |= dict.fromkeys(test.name for test in tests_in(part))
    if not names:
        return ["Nothing was tested."]
    return [f"Tests: {listed([_cited(name) for name in names])}."]


def _cited(name: str) -> str:
    known = max((key for key in _SOURCES if name.startswith(key)), key=len, default="")
    return f"{name} ({_SOURCES[known]})" if known else name


def _levels(asked: Asked) -> list[str]:
    levels = sorted({source.question.confidence for source, _ in asked})
    words = listed([level(each) for each in levels])
    sided = "Tests are two-sided unless stated."
    return [f"Intervals are at the {words} level. {sided}"]
