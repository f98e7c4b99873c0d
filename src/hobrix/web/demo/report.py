"""The demo's report: a page that puts the survey's answers into words."""

from importlib.metadata import version
from typing import Any

from hobrix.core.report import document as d
from hobrix.core.report.methods import methods_paragraphs
from hobrix.web.reports.models import Report, ReportBlock
from hobrix.web.reports.resolving import StudyAnswers, blocks_of, page_now, written
from hobrix.web.reports.writing import BlockChange, change_blocks, look_at
from hobrix.web.studies.models import SavedQuestion, Study

TITLE = "Stomach illness after the spring flood"
_SOURCE = "Does illness vary with water source?"
_COMMON = "How common is illness in the basin?"
_MODEL = "Does schooling matter, allowing for source and income?"
_FILTER = ("Does a filter help?", "…in flooded homes", "…in homes not flooded")


def write_report(study: Study, user: Any) -> Report:
    """Written as a person would, block by block."""
    ids = {
        saved.title: str(saved.id)
        for saved in SavedQuestion.objects.filter(study=study).order_by("-position")
    }
    report = Report.objects.create(study=study, title=TITLE)
    _append(report, user, _blocks(ids))
    found = StudyAnswers(report, user)
    asked = d.questions_of(written(report, blocks_of(report)).blocks)
    sources = [found.source(name) for name in asked]
    said = methods_paragraphs([(each, found.printed(each)) for each in sources], version("hobrix"))
    made = [d.Paragraph(content=(d.Text(text=text),), made="methods") for text in said]
    _append(report, user, [_heading("Methods"), *made])
    page, _ = page_now(report, user)
    look_at(report, page.shows, page.shows)
    return report


def _append(report: Report, user: Any, blocks: list[d.Block]) -> None:
    first = ReportBlock.objects.filter(report=report).count()
    changes = [BlockChange(f"block-{first + i}", None, block) for i, block in enumerate(blocks)]
    change_blocks(report, user, changes)


def _heading(text: str) -> d.Heading:
    return d.Heading(content=(d.Text(text=text),))


def _blocks(ids: dict[str, str]) -> list[d.Block]:
    source, common, model = ids[_SOURCE], ids[_COMMON], ids[_MODEL]

    def paragraph(*parts: str | tuple[str, str] | d.Reference) -> d.Paragraph:
        """Text, numbers as (question, key), references."""
        return d.Paragraph(content=tuple(_inline(part) for part in parts))

    table, figure = d.Reference(block="block-4"), d.Reference(block="block-5")
    return [
        _heading("Illness and water source"),
        paragraph(
            "We asked ",
            (source, "flow/surveyed"),
            " households of the Ostra Basin about the weeks after the flood. ",
            (common, "frequencies/ill/1/share"),
            " of the households in the basin (95% CI ",
            (common, "frequencies/ill/1/ci"),
            ") reported stomach illness.",
        ),
        d.Flow(question=source, caption="Who was asked, and who is counted"),
        paragraph(
            "Those drawing from the river reported illness most often, ",
            (source, "event/4/share"),
            " (95% CI ",
            (source, "event/4/share/ci"),
            ") against ",
            (source, "event/1/share"),
            " on piped supply (",
            table,
            ", ",
            figure,
            "); the odds were ",
            (source, "event/4/odds_ratio"),
            " times as high.",
        ),
        d.TableOf(
            question=source,
            caption="Stomach illness by water source, households of the Ostra Basin",
        ),
        d.PictureOf(question=source, picture="mosaic", caption="Stomach illness by water source"),
        _heading("Allowing for income, schooling and age"),
        paragraph(
            "With income, schooling and age of the head allowed for, the odds ratio of river water against "
            "piped was ",
            (model, "model/source/4//odds_ratio"),
            " (",
            (model, "model/source/4//odds_ratio/ci"),
            "; ",
            (model, "model/source/4//p"),
            "); unadjusted it was ",
            (model, "model/source/4//unadjusted"),
            " in the same ",
            (model, "flow/counted"),
            " households. Odds ratios are not ratios of shares.",
        ),
        d.TableOf(question=model, table="model"),
        d.PictureOf(question=model),
        _heading("Filters, where homes were flooded and where not"),
        d.Comparison(questions=tuple(ids[title] for title in _FILTER)),
        _heading("Limitations"),
        paragraph(
            "Illness was reported, not diagnosed; households that had left the basin were not asked."
        ),
    ]


def _inline(part: str | tuple[str, str] | d.Reference) -> d.Inline:
    if isinstance(part, str):
        return d.Text(text=part)
    return part if isinstance(part, d.Reference) else d.NumberOf(question=part[0], key=part[1])
