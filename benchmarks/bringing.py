"""Stacking ten data sets of 200,000 rows and 40 variables, and matching a million rows by key, each
beside polars doing the same: answers recoded and rows under rows, a left join."""

from typing import Any

import numpy as np
import polars as pl

from benchmarks.timing import best_of, milliseconds
from hobrix.core.bringing import KeyPair, Match, Part, Stack, carry_out, proposed
from hobrix.core.data import Category, Coded, Frame, Measured, Source, Variable

PARTS, ROWS, CATEGORICAL, NUMERIC = 10, 200_000, 30, 10
MATCHED = 1_000_000


def run(rows: int = ROWS, matched: int = MATCHED) -> None:
    _stacking(rows)
    _matching(matched)


def _stacking(rows: int) -> None:
    random = np.random.default_rng(1)
    parts = [_part(at, rows, random) for at in range(PARTS)]
    names = list(parts[0].frame.variables)
    common = tuple(proposed(parts, [name] * PARTS, name) for name in names)
    recipe = Stack(names=tuple(part.name for part in parts), variables=common)
    tables = [_table(part) for part in parts]
    found = best_of(
        {
            "Hobrix: reasons kept, weights and origin": lambda: carry_out(recipe, parts),
            "polars: replace and concat": lambda: _stacked(tables, names),
        },
        rounds=3,
    )
    told = f"Stacking {PARTS} data sets of {rows:,} rows x {len(names)} variables"
    _tell(told, found, "aim: under 5 s")


def _part(at: int, rows: int, random: np.random.Generator) -> Part:
    variables, sources = [], dict[str, Source]()
    for i in range(CATEGORICAL):
        # Other codes in each, with the same labels.
        answers = tuple(Category(value=f"{at}{k}", label=f"answer {k}") for k in range(5))
        variables.append(Variable(name=f"c{i}", kind="nominal", categories=answers))
        codes = random.integers(-1, 5, rows).astype(np.int8)
        sources[f"c{i}"] = Coded(codes, tuple(answer.value for answer in answers))
    for i in range(NUMERIC):
        variables.append(Variable(name=f"x{i}", kind="numeric"))
        sources[f"x{i}"] = Measured.of(random.normal(size=rows))
    return Part(f"part {at}", Frame.of(variables, sources, rows))


def _table(part: Part) -> pl.DataFrame:
    columns: dict[str, Any] = {}
    for name in part.frame.variables:
        source = part.frame.source(name)
        if isinstance(source, Coded):
            values = pl.Series([*source.values, None], dtype=pl.String)
            columns[name] = values.gather(source.codes % len(values)).cast(pl.Categorical)
        else:
            columns[name] = source.numbers
    return pl.DataFrame(columns)


def _stacked(tables: list[pl.DataFrame], names: list[str]) -> pl.DataFrame:
    made = []
    for at, table in enumerate(tables):
        to = {f"{at}{k}": f"answer {k}" for k in range(5)}
        answers = [
            pl.col(name).replace_strict(to, return_dtype=pl.String) for name in names[:CATEGORICAL]
        ]
        made.append(
            table.with_columns(answers).with_columns(pl.lit(f"part {at}").alias("data_set"))
        )
    return pl.concat(made)


def _matching(rows: int) -> None:
    random = np.random.default_rng(2)
    order = random.permutation(rows)
    keys = [f"K{i:07d}" for i in range(rows)]
    there_keys = [keys[i] for i in order]
    weights = random.normal(size=rows)
    of_text = Variable(name="id", kind="text")
    codes = np.arange(rows, dtype=np.int32)
    here = Part("here", Frame.of([of_text], {"id": Coded(codes, tuple(keys))}, rows))
    columns: dict[str, Source] = {"id": Coded(codes, tuple(there_keys)), "w": Measured.of(weights)}
    there = Part("there", Frame.of([of_text, Variable(name="w", kind="numeric")], columns, rows))
    recipe = Match(keys=(KeyPair(here="id", there="id"),), take=("w",))
    one, other = pl.DataFrame({"id": keys}), pl.DataFrame({"id": there_keys, "w": weights})
    found = best_of(
        {
            "Hobrix: keys as text, unmatched told": lambda: carry_out(recipe, [here, there]),
            "polars: left join": lambda: one.join(other, on="id", how="left", validate="m:1"),
        },
        rounds=3,
    )
    _tell(f"Matching {rows:,} rows by key", found, "aim: under 3 s")


def _tell(told: str, found: dict[str, float], aim: str) -> None:
    print(f"\n{told}")
    for name, seconds in found.items():
        print(f"  {name:42} {milliseconds(seconds)}")
    ours, theirs = found.values()
    print(f"  {ours / theirs:.1f} times as long as polars ({aim})")
