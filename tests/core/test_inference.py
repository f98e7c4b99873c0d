"""The first reading of a column: kind, order, event, and what is probably no answer."""

import numpy as np
import pytest

from hobrix.core.data import Coded, Measured, Proposal, propose


def proposed(answers: list[str], times: int = 4) -> Proposal:
    """A column in which each answer is given several times, in this order."""
    values = tuple(dict.fromkeys(answers))
    codes = [values.index(answer) if answer else -1 for answer in answers] * times
    return propose("x", Coded(np.array(codes, dtype=np.int16), values))


def values(proposal: Proposal) -> list[str]:
    return [category.value for category in proposal.variable.categories]


def looks(proposal: Proposal) -> tuple[str, ...]:
    return tuple(look.text for look in proposal.to_look_at)


def missing(proposal: Proposal) -> list[str]:
    return [code.value for code in proposal.variable.missing]


def test_numerals_come_in_numeric_order() -> None:
    proposal = proposed(["3", "1", "2", "5", "4"])
    assert proposal.variable.kind == "nominal"
    assert values(proposal) == ["1", "2", "3", "4", "5"]


def test_words_keep_the_order_of_the_file() -> None:
    """Even where an order can be guessed: that is for the researcher to say."""
    proposal = proposed(["sometimes", "always", "never"])
    assert proposal.variable.kind == "nominal"
    assert values(proposal) == ["sometimes", "always", "never"]


@pytest.mark.parametrize(
    ("yes", "no"), [("yes", "no"), ("Y", "N"), ("TRUE", "FALSE"), ("Ja", "Nein")]
)
def test_yes_is_the_event(yes: str, no: str) -> None:
    variable = proposed([no, yes, no]).variable
    assert variable.event == (yes,)
    assert variable.reference == no


def test_two_answers_of_other_words_have_no_event_yet() -> None:
    assert proposed(["piped", "river"]).variable.event == ()


def test_many_different_numbers_are_numeric() -> None:
    assert proposed([str(n) for n in range(18, 70)]).variable.kind == "numeric"


def test_small_counts_from_zero_are_read_as_codes_but_nine_are_not() -> None:
    assert proposed(["0", "1"]).variable.kind == "nominal"
    assert proposed([str(n) for n in range(1, 10)]).variable.kind == "numeric"


@pytest.mark.parametrize("word", [".", "NA", "n/a", "Refused", "not asked", "no answer"])
def test_words_that_are_no_answers(word: str) -> None:
    proposal = proposed(["a", "b", word])
    assert missing(proposal) == [word]
    assert values(proposal) == ["a", "b"]


def test_a_code_far_outside_the_scale_is_no_answer() -> None:
    proposal = proposed(["1", "2", "3", "4", "5", "99", "-9"])
    assert missing(proposal) == ["-9", "99"]
    assert "-9 and 99 lie far outside" in looks(proposal)[0]


def test_ninety_nine_among_ages_is_only_pointed_out() -> None:
    proposal = proposed([str(n) for n in range(18, 60)] + ["99"])
    assert missing(proposal) == []
    assert "99 lies outside" in looks(proposal)[0]
    assert proposal.to_look_at[0].values == ("99",)


@pytest.mark.parametrize(
    ("numbers", "outside"),
    [
        ([*range(18, 60), 99], ["99"]),
        # Two codes for no answer beside each other, and what is asked of those who were not asked.
        ([*range(18, 60), 98, 99], ["98", "99"]),
        ([-9, -8, *range(18, 60), 999], ["-9", "-8", "999"]),
        ([*range(60, 98), 98, 99], []),
        # An answer that happens to be such a number does not hide a code beyond it.
        ([-1, *range(16, 89), 999], ["-1", "999"]),
        ([*range(16, 89), 98, 998, 999], ["998", "999"]),
        # Changes may be below 0, and far below 0 nothing stands out above.
        ([-9, -4.5, *range(10, 30)], []),
        ([-9, *range(-40, -9)], []),
        ([-9, -8, 777, 888, 999], []),
    ],
)
def test_reserved_numbers_far_from_the_others_are_pointed_out(
    numbers: list[float], outside: list[str]
) -> None:
    found = propose("x", Measured.of(np.array(numbers, dtype=np.float64)))
    assert [look.text.split(" ")[0] for look in found.to_look_at] == outside


def test_ninety_nine_as_the_next_age_is_an_age() -> None:
    assert proposed([str(n) for n in range(60, 100)]).to_look_at == ()


def test_do_not_know_is_an_answer_with_a_question_mark() -> None:
    proposal = proposed(["yes", "no", "don't know"])
    assert missing(proposal) == []
    assert "don't know" in looks(proposal)[0]


def test_a_word_among_numbers_is_set_aside() -> None:
    proposal = proposed([str(n) for n in range(20, 50)] + ["old"])
    assert proposal.variable.kind == "numeric"
    assert missing(proposal) == ["old"]


@pytest.mark.parametrize("word", ["unknown", "DK", "not weighed"])
def test_a_word_among_numbers_is_not_said_to_be_counted_and_nothing_is_asked(word: str) -> None:
    proposal = proposed([str(n) for n in range(20, 50)] + [word])
    assert missing(proposal) == [word]
    assert looks(proposal) == (f"“{word}” stands among numbers: taken as missing.",)
    assert [look.asks for look in proposal.to_look_at] == [None]


def test_spellings_that_differ_in_capitals_are_pointed_out() -> None:
    assert looks(proposed(["yes", "no", "YES"])) == (
        "“yes” and “YES” differ only in capitals or spaces.",
    )


def test_many_such_spellings_are_summed_up() -> None:
    villages = [f"{letter}{i}" for letter in "vV" for i in range(8)]
    assert looks(proposed(villages)) == (
        "8 answers differ from others only in capitals or spaces, such as “v0” and “V0”.",
    )


def test_names_that_never_repeat_are_text() -> None:
    assert proposed([f"H{n:03d}" for n in range(40)], times=1).variable.kind == "text"


def test_codes_with_leading_zeros_are_not_numbers() -> None:
    proposal = proposed(["010", "020", "003"])
    assert proposal.variable.kind == "nominal"
    assert values(proposal) == ["003", "010", "020"]


def test_a_column_without_answers() -> None:
    proposal = propose("x", Coded(np.full(4, -1, np.int8), ()))
    assert looks(proposal) == ("No row has an answer.",)


def test_measurements_keep_their_words_as_missing() -> None:
    numbers = np.array([1.5, np.nan, 2.5, 7.25])
    source = Measured(numbers, np.array([-1, 0, -1, -1], np.int8), ("refused",))
    proposal = propose("x", source)
    assert proposal.variable.kind == "numeric"
    assert missing(proposal) == ["refused"]


@pytest.mark.parametrize(
    ("answers", "kept", "missing", "words"),
    [
        (["1", "2", "9"], ["1", "2"], ["9"], "9 stands apart from 1 to 2: taken as missing."),
        (["0", "1", "8", "9"], ["0", "1"], ["8", "9"], "8 and 9 stand apart from 0 to 1: "),
        (["1", "2", "3", "4", "9"], ["1", "2", "3", "4", "9"], [], "Is it an answer?"),
        (["1", "2", "3", "4", "5", "7"], ["1", "2", "3", "4", "5", "7"], [], "Is it an answer?"),
    ],
)
def test_nines_apart_from_a_short_scale_do_not_pass_for_answers(
    answers: list[str], kept: list[str], missing: list[str], words: str
) -> None:
    proposal = proposed(answers)
    variable = proposal.variable
    assert variable.is_categorical
    assert [category.value for category in variable.categories] == kept
    assert [code.value for code in variable.missing] == missing
    assert words in " ".join(looks(proposal))


@pytest.mark.parametrize("answers", [["1", "2", "3"], ["0", "1", "2", "3", "4", "5", "6", "7"]])
def test_a_scale_without_a_gap_has_nothing_to_look_at(answers: list[str]) -> None:
    assert proposed(answers).to_look_at == ()


@pytest.mark.parametrize("code", ["9", "99", "-1"])
def test_a_number_among_words_is_pointed_out(code: str) -> None:
    proposal = proposed(["smoker", "non-smoker", code])
    assert [c.value for c in proposal.variable.categories] == ["smoker", "non-smoker", code]
    assert looks(proposal) == (
        f"“{code}” stands among words and is counted as an answer. Is it one?",
    )
    assert proposed(["one", "two", "3"]).to_look_at == ()
