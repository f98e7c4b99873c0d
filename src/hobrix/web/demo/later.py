"""Makes up what came after the first round: the second round a year later, visits to households in
the Ostra and in the neighbouring Vell valley, and facts of villages.

Run ``python -m hobrix.web.demo.later`` to write them anew. Nobody in these data exists. What is built
in: the rounds ask the same under other names, codes, directions and units; less illness in round two,
not least as more homes have a tap; illness at a visit goes with river water and with little chlorine,
and a household that was ill once is ill more easily again; villages with a treatment plant have less.
"""

import csv
import datetime
import json
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Category, MissingCode, Variable
from hobrix.core.formats import Codebook, Noun
from hobrix.web.demo.generate import DISTRICTS, HERE, HOUSEHOLDS, make

SEED = 20320420
ROUND_TWO = HERE / "ostra-round-2"
VISITS = HERE / "ostra-visits"
VELL = HERE / "vell-visits"
VILLAGES = HERE / "ostra-villages"

Floats = NDArray[np.floating[Any]]
Texts = Sequence[str]


def _choice(name: str, label: str, answers: dict[str, str], **more: Any) -> Variable:
    categories = tuple(Category(value=v, label=text) for v, text in answers.items())
    fields = {"kind": "nominal", **more}
    return Variable(name=name, label=label, categories=categories, **fields)


def _number(name: str, label: str, unit: str = "", **more: Any) -> Variable:
    return Variable(name=name, label=label, kind="numeric", unit=unit, **more)


def _lost(random: np.random.Generator, texts: Texts, share: float, code: str) -> list[str]:
    gone = random.random(len(texts)) < share
    return [code if lost else text for text, lost in zip(texts, gone, strict=True)]


def _coin(random: np.random.Generator, log_odds: Floats) -> NDArray[np.bool_]:
    return random.random(len(log_odds)) < 1 / (1 + np.exp(-log_odds))


def round_two(random: np.random.Generator) -> tuple[dict[str, Texts], list[Variable]]:
    """2,188 other households of the same villages, asked in other words."""
    n = 2188
    district = np.sort(random.choice(5, n, p=(0.26, 0.22, 0.20, 0.18, 0.14)))
    village = [f"{DISTRICTS[d][0]}{random.integers(1, 13):02d}" for d in district]
    weight = np.array((33.0, 17.0, 7.0, 5.0, 10.0))[district] * random.uniform(0.8, 1.25, n)
    age = np.clip(np.round(random.gamma(9.0, 5.3, n)), 18, 95)
    rich = random.normal(0, 1, n)
    flooded = _coin(random, -2.0 + 0.7 * np.isin(district, (2, 4)))
    leaning = np.column_stack(
        [1.0 + 0.5 * rich, 0.2 + 0.2 * rich, 0.5 - 0.1 * rich, -0.7 - 0.6 * rich, -1.6 + 0.8 * rich]
    )
    water = np.argmax(leaning + random.gumbel(size=leaning.shape), axis=1)
    water = np.where(random.random(n) < 0.017, 8, water)
    boils = random.integers(0, 4, n)
    ill = _coin(
        random,
        -2.5 + 0.9 * (water == 3) + 0.4 * (water == 2) - 0.4 * (boils >= 2) + 0.5 * flooded
        - 0.35 * rich,
    )  # fmt: skip
    columns: dict[str, Texts] = {
        "id": [f"{i + 1:05d}" for i in range(n)],
        "area": [DISTRICTS[d] for d in district],
        "village": village,
        "wt": [f"{w:.3f}" for w in weight],
        "q01_age_months": _lost(random, [f"{12 * a + random.integers(0, 12):.0f}" for a in age], 0.02, "-9"),
        "q02_sex": ["f" if woman else "m" for woman in random.random(n) < 0.41],
        "q05_flood": _lost(random, ["1" if f else "2" for f in flooded], 0.01, "9"),
        "q07_water": _lost(random, [str(w + 1) for w in water], 0.01, "99"),
        "q09_stomach": _lost(random, ["Y" if i else "N" for i in ill], 0.02, "."),
        "q10_boiling": _lost(random, [str(4 - b) for b in boils], 0.01, "9"),
        "q12_income": _lost(random, [f"{x:.1f}" for x in np.exp(2.9 + 0.5 * rich)], 0.08, "-9"),
    }  # fmt: skip
    missing = (MissingCode(value="9", label="refused"),)
    entries = [
        Variable(name="id", label="Household number", kind="text"),
        _choice("area", "District", {d: d for d in DISTRICTS}),
        _choice("village", "Village", {v: v for v in sorted(set(village))}),
        _number("wt", "Household weight"),
        _number("q01_age_months", "Age of head of household", "months", missing=(MissingCode(value="-9", label="refused"),)),
        _choice("q02_sex", "Sex of head", {"m": "Man", "f": "Woman"}, reference="m"),
        _choice("q05_flood", "Was your home flooded this year?", {"1": "Yes", "2": "No"}, missing=missing, event=("1",), reference="2"),
        _choice(
            "q07_water",
            "Where does your drinking water come from?",
            {"1": "House tap", "2": "Yard tap", "3": "Well", "4": "River or stream", "5": "Bought", "9": "Other"},
            missing=(MissingCode(value="99", label="refused"),),
        ),
        _choice("q09_stomach", "Stomach illness in the household", {"Y": "Yes", "N": "No"}, missing=(MissingCode(value=".", label="not asked"),), event=("Y",), reference="N"),
        _choice("q10_boiling", "Do you boil drinking water?", {"1": "Always", "2": "Usually", "3": "Sometimes", "4": "Never"}, kind="ordinal", missing=missing),
        _number("q12_income", "Monthly income", "hundred crowns", missing=(MissingCode(value="-9", label="refused"),)),
    ]  # fmt: skip
    return columns, entries


class _Visited:
    """Households over up to six visits, one row for each visit."""

    def __init__(self, random: np.random.Generator, households: int, ill_at_all: float) -> None:
        self.rows: list[tuple[int, int, datetime.date, int, bool, bool, float]] = []
        for household in range(households):
            source = int(random.choice(5, p=(0.38, 0.22, 0.17, 0.18, 0.05)))
            boils = bool(random.random() < 0.45)
            own, was_ill = float(random.normal(0, 0.7)), False
            day = datetime.date(2031, 5, 2) + datetime.timedelta(int(random.integers(0, 20)))
            for visit in range(1, int(random.integers(2, 7)) + 1):
                if random.random() < 0.06:
                    source = int(random.choice(5, p=(0.6, 0.15, 0.1, 0.1, 0.05)))
                chlorine = float(
                    np.round(np.clip(random.gamma(2, 0.12) * (source == 0), 0, 1.5), 2)
                )
                odds = ill_at_all + 1.0 * (source == 3) + 0.4 * (source == 2) - 0.5 * boils
                odds += own + 0.6 * was_ill - 0.8 * chlorine
                ill = bool(random.random() < 1 / (1 + np.exp(-odds)))
                self.rows.append((household, visit, day, source, boils, ill, chlorine))
                was_ill = was_ill or ill
                day += datetime.timedelta(int(random.integers(24, 62)))

    def column(self, at: int) -> list[Any]:
        return [row[at] for row in self.rows]


def visits(random: np.random.Generator) -> tuple[dict[str, Texts], list[Variable]]:
    """430 households of round one, visited again; dates as day/month/year, chlorine in mg per litre."""
    found = _Visited(random, 430, -1.7)
    numbers = np.sort(random.choice(HOUSEHOLDS, 430, replace=False)) + 1
    sources = ("Piped", "Protected well", "Open well", "River", "Bottled")
    columns: dict[str, Texts] = {
        "household": [f"H{numbers[h]:04d}" for h in found.column(0)],
        "visit": [str(visit) for visit in found.column(1)],
        "seen_on": [day.strftime("%d/%m/%Y") for day in found.column(2)],
        "water": _lost(random, [sources[s] for s in found.column(3)], 0.01, "not asked"),
        "boils": _lost(random, ["yes" if b else "no" for b in found.column(4)], 0.01, "not asked"),
        "ill": _lost(random, ["yes" if i else "no" for i in found.column(5)], 0.03, "refused"),
        "chlorine": _lost(random, [f"{c:.2f}" for c in found.column(6)], 0.05, ""),
    }
    no_answer = (MissingCode(value="not asked", label="not asked"),)
    entries = [
        Variable(name="household", label="Household number", kind="text"),
        _number("visit", "Visit"),
        Variable(name="seen_on", label="Day of the visit", kind="date", date_form="dmy"),
        _choice("water", "Water source", {s: s for s in sources}, missing=no_answer, reference="Piped"),
        _choice("boils", "Boils drinking water", {"yes": "Yes", "no": "No"}, missing=no_answer, event=("yes",), reference="no"),
        _choice("ill", "Stomach illness since the last visit", {"yes": "Yes", "no": "No"}, missing=(MissingCode(value="refused"),), event=("yes",), reference="no"),
        _number("chlorine", "Free chlorine", "mg per litre"),
    ]  # fmt: skip
    return columns, entries


def vell(random: np.random.Generator) -> tuple[dict[str, Texts], list[Variable]]:
    """260 households of the neighbouring valley: other words and codes, chlorine in µg per litre."""
    found = _Visited(random, 260, -1.4)
    supplies = ("network", "own well", "shared well", "surface", "tanker")
    columns: dict[str, Texts] = {
        "hh": [f"{h + 1:03d}" for h in found.column(0)],
        "round": [str(visit) for visit in found.column(1)],
        "date": [day.isoformat() for day in found.column(2)],
        "supply": _lost(random, [supplies[s] for s in found.column(3)], 0.01, "."),
        "boiling": _lost(random, ["2" if b else "1" for b in found.column(4)], 0.01, "."),
        "sick": _lost(random, ["1" if i else "2" for i in found.column(5)], 0.02, "9"),
        "cl": _lost(random, [f"{1000 * c:.0f}" for c in found.column(6)], 0.04, ""),
    }
    dot = (MissingCode(value=".", label="not asked"),)
    entries = [
        Variable(name="hh", label="Household", kind="text"),
        _number("round", "Round of visits"),
        Variable(name="date", label="Date of visit", kind="date", date_form="ymd"),
        _choice("supply", "Water supply", {s: s.capitalize() for s in supplies}, missing=dot),
        _choice("boiling", "Drinking water boiled", {"1": "No", "2": "Yes"}, missing=dot, event=("2",), reference="1"),
        _choice("sick", "Stomach illness", {"1": "Yes", "2": "No"}, missing=(MissingCode(value="9", label="no answer"),), event=("1",), reference="2"),
        _number("cl", "Free chlorine", "µg per litre"),
    ]  # fmt: skip
    return columns, entries


def villages(random: np.random.Generator) -> tuple[dict[str, Texts], list[Variable]]:
    """Facts of the villages of the survey; two of them are not in the list."""
    named = sorted({*make().columns["village"]})
    known = [village for village in named if village not in ("H07", "V11")] + ["X01"]
    plant = random.random(len(known)) < 0.45
    columns: dict[str, Texts] = {
        "village_code": known,
        "plant": ["yes" if p else "no" for p in plant],
        "people": [f"{x:.0f}" for x in random.gamma(3, 300, len(known)) + 150],
        "river_km": [f"{x:.1f}" for x in random.gamma(1.5, 2.5, len(known))],
    }
    entries = [
        Variable(name="village_code", label="Village", kind="text"),
        _choice("plant", "Has a treatment plant", {"yes": "Yes", "no": "No"}, event=("yes",), reference="no"),
        _number("people", "People in the village", "people"),
        _number("river_km", "Distance to the river", "km"),
    ]  # fmt: skip
    return columns, entries


FILES = {
    ROUND_TWO: (round_two, Noun(one="household", many="households")),
    VISITS: (visits, Noun(one="visit", many="visits")),
    VELL: (vell, Noun(one="visit", many="visits")),
    VILLAGES: (villages, Noun(one="village", many="villages")),
}


def write() -> None:
    """Write every CSV and codebook beside this module."""
    for at, (path, (made, noun)) in enumerate(FILES.items()):
        columns, entries = made(np.random.default_rng(SEED + at))
        with path.with_suffix(".csv").open("w", newline="", encoding="utf-8") as file:
            writer = csv.writer(file, lineterminator="\n")
            writer.writerow(columns)
            writer.writerows(zip(*columns.values(), strict=True))
        codebook = Codebook(noun=noun, variables=tuple(entries))
        text = json.dumps(
            codebook.model_dump(exclude_defaults=True, mode="json"), ensure_ascii=False, indent=1
        )
        path.with_suffix(".codebook.json").write_text(text + "\n", encoding="utf-8")


if __name__ == "__main__":
    write()
