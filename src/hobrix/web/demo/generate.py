"""Makes up the first round of the Ostra Basin household water survey.

Run ``python -m hobrix.web.demo.generate`` to write the CSV and its codebook anew; the seed makes
them the same each time. Nobody in these data exists. What is built in, for the demo to find:
stomach illness goes strongly with water source and not with having a phone; less schooling seems
to go with illness until source and income are allowed for; using a filter looks useless over the
whole because flooded homes filter more, and protects within flooded and not flooded homes alike;
the flood matters for illness on the coast but not on the moor.
"""

import csv
import json
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Category, MissingCode, Variable
from hobrix.core.data.variable import Kind
from hobrix.core.formats import Codebook, Noun

SEED = 20310417
HOUSEHOLDS = 2412
HERE = Path(__file__).parent
CSV_FILE = HERE / "ostra-round-1.csv"
CODEBOOK_FILE = HERE / "ostra-round-1.codebook.json"

DISTRICTS = ("Norrin", "Vale", "Estuary", "Highmoor", "Port")
DISTRICT_SHARES = (0.26, 0.22, 0.20, 0.18, 0.14)
# Households that one in the sample stands for: flooded and remote districts were sampled densely.
DISTRICT_WEIGHTS = (31.0, 16.0, 6.5, 4.5, 9.0)
SOURCES = ("Piped", "Protected well", "Open well", "River", "Bottled")
HOW_OFTEN = ("Never", "Sometimes", "Usually", "Always")
AGREEMENT = ("Disagree strongly", "Disagree", "Neither", "Agree", "Agree strongly")
NOT_GIVEN = (MissingCode(value=".", label="not asked"), MissingCode(value="99", label="refused"))

Floats = NDArray[np.floating[Any]]


def _expit(x: Floats) -> Floats:
    return 1 / (1 + np.exp(-x))


class Survey:
    """Columns in the order of the questionnaire, with their codebook entries."""

    def __init__(self) -> None:
        self.random = np.random.default_rng(SEED)
        self.columns: dict[str, list[str]] = {}
        self.entries: list[Variable] = []

    def chance(self, log_odds: Floats) -> NDArray[np.int64]:
        """1 with the probability that the log odds say, otherwise 0."""
        return (self.random.random(HOUSEHOLDS) < _expit(log_odds)).astype(np.int64)

    def graded(self, leaning: Floats, cuts: tuple[float, ...]) -> NDArray[np.int64]:
        """0..len(cuts): a leaning plus logistic noise, cut into ordered answers."""
        return np.digitize(leaning + self.random.logistic(size=HOUSEHOLDS), cuts)

    def drop(self, texts: list[str], share: float | Floats, codes: tuple[str, ...]) -> list[str]:
        """Replace a share of the answers by missing codes (or blanks)."""
        lost = self.random.random(HOUSEHOLDS) < share
        picks = self.random.choice(len(codes), HOUSEHOLDS)
        return [
            codes[k] if gone else text for text, gone, k in zip(texts, lost, picks, strict=True)
        ]

    def categories(
        self,
        name: str,
        label: str,
        answers: tuple[str, ...],
        values: NDArray[np.int64],
        *,
        kind: Kind = "nominal",
        lost: float | Floats = 0.01,
        event: str | None = None,
        reference: str | None = None,
        first_code: int = 1,
    ) -> None:
        """A closed question, coded 1, 2, … with "." for not asked and 99 for refused."""
        texts = self.drop([str(v + first_code) for v in values], lost, (".", "99"))
        code = {answer: str(i + first_code) for i, answer in enumerate(answers)}
        self.columns[name] = texts
        self.entries.append(
            Variable(
                name=name,
                label=label,
                kind=kind,
                categories=tuple(Category(value=code[a], label=a) for a in answers),
                missing=NOT_GIVEN,
                event=() if event is None else (code[event],),
                reference=None if reference is None else code[reference],
            )
        )

    def yes_no(
        self, name: str, label: str, values: NDArray[np.int64], lost: float | Floats = 0.01
    ) -> None:
        """Yes is 1 and the event, no is 0 and the reference."""
        answers = ("No", "Yes")
        self.categories(
            name, label, answers, values, lost=lost, event="Yes", reference="No", first_code=0
        )

    def number(
        self,
        name: str,
        label: str,
        values: Floats,
        unit: str,
        *,
        decimals: int = 0,
        lost: float | Floats = 0.0,
        code: str = "",
    ) -> None:
        texts = [f"{value:.{decimals}f}" for value in values]
        self.columns[name] = self.drop(texts, lost, (code, "."))
        missing = tuple(
            MissingCode(value=c, label=label)
            for c, label in ((".", "not asked"), (code, "refused"))
            if c
        )
        self.entries.append(
            Variable(name=name, label=label, kind="numeric", unit=unit, missing=missing)
        )


def make() -> Survey:
    """The whole survey."""
    survey = Survey()
    random = survey.random
    n = HOUSEHOLDS
    district = np.sort(random.choice(5, n, p=DISTRICT_SHARES))
    village = district * 12 + random.integers(0, 12, n)
    village_effect = random.normal(0, 0.35, 60)[village]
    coast = np.isin(district, (2, 4))
    moor = district == 3
    weight = np.array(DISTRICT_WEIGHTS)[district] * random.uniform(0.8, 1.25, n)

    age = np.clip(np.round(random.gamma(9.0, 5.2, n)), 18, 94)
    woman = survey.chance(np.full(n, -0.45))
    schooling = survey.graded(1.4 - (age - 45) / 22 - 0.2 * moor, (-1.2, 0.9, 2.6))
    income = np.round(np.exp(random.normal(7.35, 0.45, n) + 0.33 * schooling), -1)
    rich = (np.log(income) - 7.9) / 0.6
    third = np.digitize(income, np.quantile(income, (1 / 3, 2 / 3)))
    size = 1 + np.minimum(random.poisson(2.6, n), 11)
    children = np.minimum(random.binomial(size - 1, 0.28), 5)
    flooded = survey.chance(-0.9 + 1.1 * coast - 1.0 * moor + village_effect)

    source = _water_source(random, rich, district)
    river, open_well = source == 3, source == 2
    boil = survey.graded(-0.1 + 0.9 * river + 0.5 * open_well + 0.25 * schooling, (0.2, 1.5, 2.6))
    boil = np.where(survey.chance(-0.9 + 0.5 * flooded) == 1, np.minimum(boil + 1, 3), boil)
    uses_filter = survey.chance(-2.3 + 2.9 * flooded + 0.2 * rich)
    trust = survey.graded(
        0.9 - 0.7 * flooded - 0.25 * schooling + 0.5 * (source == 0), (-1, 0.6, 2)
    )
    minutes = np.round(np.where(source == 0, 0, random.gamma(2.0, 7.0, n)))
    covered = survey.chance(0.4 + 0.3 * schooling)
    soap = survey.chance(0.2 + 0.45 * rich)
    toilet = random.choice(4, n, p=(0.49, 0.37, 0.137, 0.003))
    flood_effect = np.where(coast, 1.2, np.where(moor, 0.0, 0.6))
    ill = survey.chance(
        -2.25
        + np.array([0.0, 0.25, 0.65, 1.05, 0.25])[source]
        - 0.45 * (boil >= 2)
        + flood_effect * flooded
        - 0.75 * uses_filter
        - 0.42 * rich
        + 0.16 * (children > 0)
        - 0.008 * (age - 45)
        + 0.5 * village_effect
    )

    survey.columns["household"] = [f"H{i + 1:04d}" for i in range(n)]
    survey.entries.append(Variable(name="household", label="Household number", kind="text"))
    survey.categories("district", "District", DISTRICTS, district, lost=0.0)
    survey.columns["village"] = [f"{DISTRICTS[v // 12][0]}{v % 12 + 1:02d}" for v in village]
    survey.entries.append(
        Variable(
            name="village",
            label="Village",
            kind="nominal",
            categories=tuple(
                Category(value=v, label=v) for v in sorted(set(survey.columns["village"]))
            ),
        )
    )
    survey.number("weight", "Household weight", weight, "", decimals=2)
    survey.number("age", "Age of head", age, "years", lost=0.025, code="-9")
    survey.categories("sex", "Sex of head", ("Man", "Woman"), woman, lost=0.002, reference="Man")
    survey.categories(
        "schooling",
        "Schooling of head",
        ("None", "Primary", "Secondary", "Higher"),
        schooling,
        kind="ordinal",
        lost=0.02,
        reference="Higher",
    )
    survey.number(
        "income", "Monthly income", income, "crowns", lost=0.06 + 0.06 * (third == 2), code="-9"
    )
    survey.categories(
        "income_third",
        "Income",
        ("Lower third", "Middle third", "Upper third"),
        third,
        kind="ordinal",
        lost=0.078,
        reference="Upper third",
    )
    survey.number("size", "Household size", size.astype(float), "people")
    survey.number("children", "Children under five", children.astype(float), "children")
    survey.yes_no("flooded", "Home flooded in spring", flooded)
    survey.categories(
        "source", "Water source", SOURCES, source, lost=0.008 + 0.03 * river, reference="Piped"
    )
    survey.number("minutes", "Minutes to fetch water", minutes, "minutes", lost=0.01)
    survey.categories(
        "boil",
        "Boiling drinking water",
        HOW_OFTEN,
        boil,
        kind="ordinal",
        lost=0.009,
        reference="Never",
    )
    survey.yes_no("filter", "Uses a water filter", uses_filter)
    survey.yes_no("covered", "Stored water is covered", covered)
    survey.yes_no("soap", "Soap at the washing place", soap)
    survey.categories(
        "toilet",
        "Toilet",
        ("Flush", "Improved pit", "Open pit", "None"),
        toilet,
        reference="Flush",
    )
    survey.yes_no("ill", "Stomach illness", ill, lost=0.006 + 0.05 * river)
    for name, label, base, gain in (
        ("diarrhoea", "Diarrhoea", -3.4, 4.6),
        ("vomiting", "Vomiting", -3.8, 3.6),
        ("cramps", "Stomach cramps", -2.9, 3.5),
        ("fever", "Fever", -2.7, 2.0),
    ):
        survey.yes_no(name, f"{label} in the last two weeks", survey.chance(base + gain * ill))
    survey.yes_no("care", "Sought care", survey.chance(-2.2 + 1.8 * ill + 0.3 * rich), lost=0.03)
    survey.number(
        "absent",
        "School days missed",
        random.poisson(0.3 + 1.4 * ill * (children > 0)).astype(float),
        "days",
        lost=0.04,
    )
    for i, label in enumerate(
        (
            "Knows that clear water can make ill",
            "Knows how long water must boil",
            "Knows when to wash hands",
            "Knows signs of dehydration",
            "Knows where to report bad water",
        ),
        start=1,
    ):
        known = survey.chance(-0.9 + 0.25 * i % 0.7 + 0.4 * schooling)
        survey.categories(
            f"know_{i}",
            label,
            ("Wrong", "Right"),
            known,
            event="Right",
            reference="Wrong",
            lost=0.02,
        )
    survey.categories(
        "trust",
        "Trust in the water utility",
        ("None", "A little", "Some", "A lot"),
        trust,
        kind="ordinal",
        lost=0.13,
        reference="None",
    )
    mood = random.normal(0, 0.8, n) - 0.6 * flooded
    for name, label, lean in (
        ("safe", "The water here is safe", 0.3 + 0.35 * trust),
        ("price", "Water costs too much", 0.8 - 0.5 * rich),
        ("voice", "People like me are heard", -0.2 + 0.2 * trust),
        ("move", "We may have to move away", -0.4 + 0.7 * flooded),
    ):
        answer = survey.graded(lean + mood, (-1.4, -0.3, 0.6, 1.9))
        survey.categories(name, label, AGREEMENT, answer, kind="ordinal", lost=0.03)
    survey.yes_no("phone", "Has a mobile phone", survey.chance(1.3 + 0.2 * rich))
    return survey


def _water_source(
    random: np.random.Generator, rich: Floats, district: NDArray[np.int64]
) -> NDArray[np.int64]:
    """Piped where people can pay, river and open wells where they cannot, bottled at the top."""
    moor = district == 3
    leaning = np.column_stack(
        [
            0.95 + 0.55 * rich - 0.4 * moor,
            0.35 + 0.10 * rich,
            0.10 - 0.25 * rich + 0.3 * moor,
            -0.25 - 0.65 * rich + 0.2 * (district == 1),
            -1.75 + 0.80 * rich,
        ]
    )
    noise: Floats = random.gumbel(size=leaning.shape)
    picked: NDArray[np.int64] = np.argmax(leaning + noise, axis=1)
    return picked


def write() -> None:
    """Write CSV and codebook beside this module."""
    survey = make()
    with CSV_FILE.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(survey.columns)
        writer.writerows(zip(*survey.columns.values(), strict=True))
    codebook = Codebook(
        noun=Noun(one="household", many="households"), variables=tuple(survey.entries)
    )
    text = json.dumps(codebook.model_dump(exclude_defaults=True), ensure_ascii=False, indent=1)
    CODEBOOK_FILE.write_text(text + "\n", encoding="utf-8")


if __name__ == "__main__":
    write()
