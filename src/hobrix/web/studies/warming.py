"""A first answer of each lens, so that nobody has to wait for what is loaded on the way."""

from contextlib import suppress

from hobrix import figures
from hobrix.core.errors import QuestionError
from hobrix.core.formats import Codebook, frame_of, read_file
from hobrix.core.questions import Question, answer
from hobrix.core.questions.lenses import LENSES

_ROWS = "ill,source,age\n" + "".join(
    f"{'yes' if (i * 7) % 5 < 2 else 'no'},{'abc'[i % 3]},{20 + (i * 5) % 60}\n" for i in range(60)
)


def warm_up() -> None:
    """Ask small questions of made-up rows."""
    frame = frame_of(read_file("rows.csv", _ROWS.encode()).table, Codebook())
    for lens in LENSES:
        for with_what in ([], [{"variable": "source"}], [{"variable": "age"}]):
            question = Question.model_validate(
                {
                    "lens": lens.name,
                    "outcome": {"variable": "ill", "event": ["yes"]},
                    "vary_with": with_what,
                }
            )
            with suppress(QuestionError):
                figures.of(answer(question, frame, panels=()))
