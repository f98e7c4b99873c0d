"""Makes up a matched case–control study of fever in Norrin Harbour, the second summer after the flood.

Run ``python -m hobrix.web.demo.matched`` to write its CSV and codebook anew. Nobody in these data exists. What
is built in: oysters and swimming in the harbour go with fever, oysters more so among children; each case has up
to three controls of the same age group and street, so that neither can be told from the sets.
"""

import csv
import json

import numpy as np

from hobrix.core.data import Category, MissingCode, Variable
from hobrix.core.formats import Codebook, Noun
from hobrix.web.demo.generate import HERE

SEED = 20320715
SETS = 110
MATCHED = HERE / "norrin-matched"
AGES = ("under 15", "15 to 39", "40 and over")
SHELLFISH = ("none", "mussels", "oysters")


def write() -> None:
    """Write CSV and codebook beside this module."""
    random = np.random.default_rng(SEED)
    rows: list[list[str]] = []
    for each in range(SETS):
        age = int(random.choice(3, p=(0.35, 0.4, 0.25)))
        street = random.normal(0, 0.6)
        people = 2 + int(random.integers(0, 3))
        shellfish = random.choice(3, people, p=(0.5, 0.3, 0.2))
        swam = random.random(people) < 1 / (1 + np.exp(-(street - 0.4 + 0.8 * (age == 0))))
        odds = np.exp(
            0.25 * (shellfish == 1) + (1.0 + 0.6 * (age == 0)) * (shellfish == 2) + 0.7 * swam
        )
        case = int(random.choice(people, p=odds / odds.sum()))
        for i in range(people):
            rows.append(
                [
                    f"F{each + 1:03d}",
                    "case" if i == case else "control",
                    str(int(shellfish[i]) + 1) if random.random() > 0.03 else "9",
                    ("yes" if swam[i] else "no") if random.random() > 0.03 else "unknown",
                    str(age + 1),
                ]
            )
    with MATCHED.with_suffix(".csv").open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(["set", "status", "shellfish", "swam", "age"])
        writer.writerows(rows)
    text = json.dumps(_codebook().model_dump(exclude_defaults=True), ensure_ascii=False, indent=1)
    MATCHED.with_suffix(".codebook.json").write_text(text + "\n", encoding="utf-8")


def _codebook() -> Codebook:
    def answers(texts: tuple[str, ...]) -> tuple[Category, ...]:
        return tuple(Category(value=str(i + 1), label=text) for i, text in enumerate(texts))

    return Codebook(
        noun=Noun(one="person", many="people"),
        variables=(
            Variable(name="set", label="Matched set", kind="text"),
            Variable(
                name="status",
                label="Fever",
                kind="nominal",
                categories=(
                    Category(value="control", label="Control"),
                    Category(value="case", label="Case"),
                ),
                event=("case",),
                reference="control",
            ),
            Variable(
                name="shellfish",
                label="Shellfish eaten",
                kind="nominal",
                categories=answers(SHELLFISH),
                reference="1",
                missing=(MissingCode(value="9", label="not remembered"),),
            ),
            Variable(
                name="swam",
                label="Swam in the harbour",
                kind="nominal",
                categories=(
                    Category(value="no", label="No"),
                    Category(value="yes", label="Yes"),
                ),
                event=("yes",),
                reference="no",
                missing=(MissingCode(value="unknown", label="not remembered"),),
            ),
            Variable(name="age", label="Age", kind="ordinal", categories=answers(AGES)),
        ),
    )


if __name__ == "__main__":
    write()
