"""Makes up the case–control study of a stomach outbreak in Norrin Harbour, the year of the flood.

Run ``python -m hobrix.web.demo.outbreak`` to write its CSV and codebook anew. Nobody in these
data exists. What is built in: water from the harbour pump goes strongly with being a case, more
so among those who do not boil it; eating at the market seems to matter until the pump is allowed
for.
"""

import csv
import json

import numpy as np

from hobrix.core.data import Category, MissingCode, Variable
from hobrix.core.data.variable import Kind
from hobrix.core.formats import Codebook, Noun
from hobrix.web.demo.generate import HERE

SEED = 20310509
CASES, CONTROLS = 148, 296
CSV_FILE = HERE / "norrin-outbreak.csv"
CODEBOOK_FILE = HERE / "norrin-outbreak.codebook.json"
AGES = ("under 15", "15 to 39", "40 to 64", "65 and over")


def write() -> None:
    """Write CSV and codebook beside this module."""
    random = np.random.default_rng(SEED)
    # A town of 20,000, of which cases and twice as many controls are taken.
    town = 20_000
    age = random.choice(4, town, p=(0.24, 0.36, 0.27, 0.13))
    pump = random.random(town) < 0.32
    market = random.random(town) < np.where(pump, 0.62, 0.35)
    boils = random.random(town) < 0.45
    child = age == 0
    log_odds = -5.6 + 1.9 * pump - 0.9 * (pump & boils) + 0.1 * market + 0.5 * child
    ill = random.random(town) < 1 / (1 + np.exp(-log_odds))
    cases = random.choice(np.flatnonzero(ill), CASES, replace=False)
    controls = random.choice(np.flatnonzero(~ill), CONTROLS, replace=False)
    people = random.permutation(np.concatenate([cases, controls]))

    def yes_no(of: np.ndarray, lost: float) -> list[str]:
        texts = np.where(of[people], "yes", "no")
        return np.where(random.random(len(people)) < lost, "unknown", texts).tolist()

    columns = {
        "person": [f"N{i + 1:03d}" for i in range(len(people))],
        "status": np.where(ill[people], "case", "control").tolist(),
        "pump": yes_no(pump, 0.03),
        "market": yes_no(market, 0.05),
        "boils": yes_no(boils, 0.02),
        "age": [str(code + 1) for code in age[people]],
    }
    with CSV_FILE.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(columns)
        writer.writerows(zip(*columns.values(), strict=True))
    text = json.dumps(_codebook().model_dump(exclude_defaults=True), ensure_ascii=False, indent=1)
    CODEBOOK_FILE.write_text(text + "\n", encoding="utf-8")


def _codebook() -> Codebook:
    unknown = (MissingCode(value="unknown", label="not remembered"),)

    def variable(
        name: str, label: str, kind: Kind, answers: dict[str, str], **more: object
    ) -> Variable:
        categories = tuple(Category(value=v, label=text) for v, text in answers.items())
        fields = {"name": name, "label": label, "kind": kind, "categories": categories, **more}
        return Variable.model_validate(fields)

    def yes_no(name: str, label: str) -> Variable:
        answers = {"no": "No", "yes": "Yes"}
        return variable(
            name, label, "nominal", answers, event=("yes",), reference="no", missing=unknown
        )

    return Codebook(
        noun=Noun(one="person", many="people"),
        variables=(
            Variable(name="person", label="Number", kind="text"),
            variable(
                "status",
                "Outbreak status",
                "nominal",
                {"control": "Control", "case": "Case"},
                event=("case",),
                reference="control",
            ),
            yes_no("pump", "Drank from the harbour pump"),
            yes_no("market", "Ate at the market"),
            yes_no("boils", "Boils drinking water"),
            variable("age", "Age", "ordinal", {str(i + 1): label for i, label in enumerate(AGES)}),
        ),
    )


if __name__ == "__main__":
    write()
