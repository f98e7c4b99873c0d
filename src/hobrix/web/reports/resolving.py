"""Where a report finds its answers: the questions of its study, as they are now."""

import hashlib
import threading
from dataclasses import dataclass, field
from operator import itemgetter
from typing import Any
from uuid import UUID

from cachetools import LRUCache
from django.conf import settings

from hobrix.core.progress import Tell, quietly
from hobrix.core.questions import Question
from hobrix.core.questions.number_style import NumberStyle, written_in
from hobrix.core.report.answers import Printed, Source, print_answer
from hobrix.core.report.document import AskedQuestion, PlacedBlock, questions_of
from hobrix.core.report.document import Report as Written
from hobrix.documents.page import Answers, Gone, Page, page_of
from hobrix.web.reports.models import Report, ReportBlock
from hobrix.web.studies.answers import begun_for, fingerprint_of
from hobrix.web.studies.dependence import frame_about
from hobrix.web.studies.models import DataSet, SavedQuestion
from hobrix.web.studies.terms import lineage, pending

_registry = threading.Lock()
# Answers for print by state of the data, question and style, with their size.
_printed: LRUCache[str, tuple[Printed, int]] = LRUCache(
    settings.ANSWER_CACHE_SIZE, getsizeof=itemgetter(1)
)


@dataclass
class StudyAnswers:
    """The questions of a report's study, for one reader."""

    report: Report
    user: Any
    tell: Tell = quietly
    _found: dict[str, tuple[Source, DataSet]] = field(default_factory=dict)

    @property
    def style(self) -> NumberStyle:
        return NumberStyle.model_validate(self.report.style)

    def source(self, name: str) -> Source:
        """
        Raises:
            Gone: there is no such question, or its data may not be read.
        """
        if name not in self._found:
            self._found[name] = self._find(name)
        return self._found[name][0]

    def _find(self, name: str) -> tuple[Source, DataSet]:
        saved = _saved(self.report, name)
        if saved is None:
            raise Gone("The question is not in the line of questions any more.")
        dataset = saved.dataset
        if dataset.deleted_at is not None:
            raise Gone(f"The data of “{saved.title}” are not in the study any more.")
        if pending(self.user, dataset):
            raise Gone(f"You have not accepted the terms of “{dataset.name}”.")
        question = Question.model_validate(saved.question)
        title = saved.title or saved.headline or "Untitled question"
        return (
            Source(
                title=title,
                question=question,
                frame=frame_about(dataset, question),
                data_set=dataset.name,
                data_sets=frozenset(str(each.id) for each in lineage(dataset)),
                preparation=tuple(step.words for step in dataset.steps.filter(is_active=True)),
            ),
            dataset,
        )

    def printed(self, source: Source) -> Printed:
        """
        Raises:
            QuestionError: the question has no answer.
        """
        dataset = self._dataset_of(source)
        key = f"{dataset.state}|{fingerprint_of(source.question)}|{self.style.model_dump_json()}"
        with _registry:
            kept = _printed.get(key)
        if kept is not None:
            return kept[0]
        made = self._print(source, dataset)
        with _registry:
            size = len(made.model_dump_json())
            if size <= _printed.maxsize:
                _printed[key] = (made, size)
        return made

    def _print(self, source: Source, dataset: DataSet) -> Printed:
        style = self.style
        with written_in(style):
            # What was counted for the screen holds words with its numbers: not for other decimals.
            if style.decimal_comma or style.percent_digits != NumberStyle().percent_digits:
                return print_answer(source.question, source.frame)
            begun = begun_for(dataset, source.question, self.tell)
            return print_answer(source.question, source.frame, begun)

    def _dataset_of(self, source: Source) -> DataSet:
        return next(
            dataset for known, dataset in self._found.values() if known.frame is source.frame
        )

    def answers(self) -> Answers:
        return Answers(source=self.source, printed=self.printed)


def _saved(report: Report, name: str) -> SavedQuestion | None:
    try:
        key = UUID(name)
    except ValueError:
        return None
    return (
        SavedQuestion.objects.select_related("dataset")
        .filter(study_id=report.study_id, id=key, deleted_at__isnull=True)
        .first()
    )


def blocks_of(report: Report) -> list[ReportBlock]:
    """Those that stand in it, in order."""
    return list(report.blocks.filter(is_removed=False).select_related("changed_by"))


def written(report: Report, blocks: list[ReportBlock]) -> Written:
    """The report as a value, without its questions."""
    return Written(
        title=report.title,
        style=NumberStyle.model_validate(report.style),
        blocks=tuple(
            PlacedBlock.model_validate({"id": each.name, "block": each.block}) for each in blocks
        ),
    )


def page_now(report: Report, user: Any, tell: Tell = quietly) -> tuple[Page, StudyAnswers]:
    """The report with what its answers are now."""
    found = StudyAnswers(report, user, tell)
    return page_of(written(report, blocks_of(report)), found.answers(), tell), found


def standing_alone(report: Report, user: Any) -> Written:
    """The report with its questions, to be written without the study."""
    found, value = StudyAnswers(report, user), written(report, blocks_of(report))
    questions = {}
    for name in questions_of(value.blocks):
        try:
            source = found.source(name)
        except Gone:
            continue
        questions[name] = AskedQuestion(
            title=source.title, data=source.data_set, question=source.question
        )
    return value.model_copy(update={"questions": questions})


def stamp_of(report: Report) -> str:
    """Changes whenever the report, its questions or their data do."""
    blocks = blocks_of(report)
    asked = questions_of(written(report, blocks).blocks)
    parts = [str(report.version), *(f"{b.name}/{b.version}/{b.position}/{b.seen}" for b in blocks)]
    for name in asked:
        saved = _saved(report, name)
        parts.append("gone" if saved is None else f"{saved.version}/{saved.dataset.state}")
        if saved is not None:
            parts.append(f"{saved.title}/{saved.dataset.deleted_at}/{saved.dataset.name}")
    return hashlib.sha256("|".join(parts).encode()).hexdigest()[:20]
