"""A report that stands by itself, made from files: no server, no study."""

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

from hobrix.core.data import Frame
from hobrix.core.errors import HobrixError
from hobrix.core.formats import Codebook, frame_of, read_any_codebook, read_path
from hobrix.core.questions.number_style import written_in
from hobrix.core.report.answers import Printed, Source, print_answer
from hobrix.core.report.document import Report
from hobrix.documents.page import Answers, Gone, Page, page_of


class ReportError(HobrixError):
    """A report cannot be made from these files; says why."""


def page_alone(
    report: Report, frames: Mapping[str, Frame], tell: Callable[[float], None] | None = None
) -> Page:
    """The report about these data sets, by name; a report about one data set takes the only one there is.

    Raises:
        ReportError: a data set that the report names is not there.
    """
    named = {asked.data for asked in report.questions.values()}
    only = next(iter(frames)) if len(frames) == 1 and len(named) == 1 else None
    missing = sorted(named - set(frames)) if only is None else []
    if missing:
        raise ReportError(
            f"The report is about “{missing[0]}”: name its file so, or give NAME=FILE. "
            f"There: {', '.join(frames) or 'nothing'}."
        )
    done: dict[str, Printed] = {}

    def source(name: str) -> Source:
        asked = report.questions.get(name)
        if asked is None:
            raise Gone("The question is not in the report’s file.")
        frame = frames[only or asked.data]
        sets = frozenset({only or asked.data})
        return Source(asked.title, asked.question, frame, asked.data, sets)

    def printed(of: Source) -> Printed:
        key = f"{of.data_set}|{of.question.model_dump_json(by_alias=True)}"
        if key not in done:
            with written_in(report.style):
                done[key] = print_answer(of.question, of.frame)
        return done[key]

    return page_of(report, Answers(source, printed), tell)


def read_frames(files: Sequence[str], codebooks: Sequence[str]) -> dict[str, Frame]:
    """Data sets by name: NAME=FILE, or a file under its own name; codebooks likewise.

    Raises:
        FormatError: a file cannot be read.
        ReportError: a codebook belongs to none of them.
    """
    paths, known = _named(files), _named(codebooks)
    if len(paths) == 1 and len(known) == 1:
        known = {next(iter(paths)): next(iter(known.values()))}
    for name in known:
        if name not in paths:
            raise ReportError(f"There is no data set “{name}” for its codebook.")
    frames = {}
    for name, path in paths.items():
        read = read_path(path)
        codebook = read.codebook or Codebook()
        if name in known:
            file = known[name]
            codebook = read_any_codebook(file.name, file.read_bytes()).describing(read.table)
        frames[name] = frame_of(read.table, codebook)
    return frames


def _named(given: Sequence[str]) -> dict[str, Path]:
    found = {}
    for each in given:
        name, equals, file = each.partition("=")
        path = Path(file if equals else each)
        if not path.exists():
            raise ReportError(f"{path}: there is no such file.")
        found[name if equals else path.name.split(".")[0]] = path
    return found
