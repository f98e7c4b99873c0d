"""Changes to the blocks of a report: each is made on the version its writer saw, or not at all."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import F, Max
from django.utils import timezone

from hobrix.core.report.document import Block, lines_of, numbers_of
from hobrix.documents.page import name_of
from hobrix.web.reports.models import Report, ReportBlock

# Positions closer than this are spread out again.
_CLOSE = 1e-6


@dataclass(frozen=True)
class BlockChange:
    """``version`` is the one its writer saw (None: it is new), ``block`` what it is now (None: it is
    removed); ``moved`` tells that it stands right after ``after`` (None: at the top)."""

    name: str
    version: int | None
    block: Block | None
    moved: bool = False
    after: str | None = None


@transaction.atomic
def change_blocks(
    report: Report, user: Any, changes: Iterable[BlockChange]
) -> tuple[dict[str, int], list[ReportBlock]]:
    """The versions of the blocks that were changed, and those that stand otherwise than their writer
    thought and stay as they are."""
    changed: dict[str, int] = {}
    stale: list[ReportBlock] = []
    for change in changes:
        kept = report.blocks.filter(name=change.name).first()
        made = _create(report, user, change) if kept is None else _change(kept, user, change)
        if made is None:
            if kept is not None:
                kept.refresh_from_db()
                stale.append(kept)
        else:
            changed[change.name] = made
    return changed, stale


def _create(report: Report, user: Any, change: BlockChange) -> int | None:
    if change.block is None:
        return 1
    made = ReportBlock.objects.create(
        report=report,
        name=change.name,
        position=_place(report, change),
        block=change.block.model_dump(mode="json"),
        changed_by=user,
    )
    return made.version


def _change(kept: ReportBlock, user: Any, change: BlockChange) -> int | None:
    """None where it is not as its writer saw it."""
    block = None if change.block is None else change.block.model_dump(mode="json")
    is_same = block == (None if kept.is_removed else kept.block) and not change.moved
    if is_same:
        # Sent twice, or done by somebody else already.
        return kept.version
    # A block that was removed and is brought back is new to its writer.
    if not kept.is_removed and change.version != kept.version:
        return None
    fields: dict[str, Any] = {"is_removed": block is None}
    if block is not None and change.block is not None:
        fields |= {"block": block, "seen": _still_seen(kept, change.block, block)}
    if change.moved:
        fields["position"] = _place(kept.report, change)
    done = ReportBlock.objects.filter(id=kept.id, version=kept.version).update(
        **fields, version=F("version") + 1, changed_by=user, changed_at=timezone.now()
    )
    return kept.version + 1 if done else None


def _still_seen(kept: ReportBlock, block: Block, written: dict[str, Any]) -> dict[str, str]:
    """What had been looked at and stands there still; what is new counts as looked at when it is first
    shown."""
    if not lines_of(block):
        return dict(kept.seen) if written == kept.block else {}
    names = {name_of(number) for number in numbers_of(block)}
    return {name: text for name, text in kept.seen.items() if name in names}


def _place(report: Report, change: BlockChange) -> float:
    """A position right after the block it stands after, or at the end."""
    others = report.blocks.exclude(name=change.name)
    if not change.moved:
        return float((others.aggregate(last=Max("position"))["last"] or 0.0) + 1)
    previous = others.filter(name=change.after).first() if change.after else None
    start = previous.position if previous is not None else None
    following = others.order_by("position")
    if start is not None:
        following = following.filter(position__gt=start)
    after = following.values_list("position", flat=True).first()
    if after is None:
        return (start or 0.0) + 1
    before = after - 2 if start is None else start
    if after - before < _CLOSE:
        _spread(report)
        return _place(report, change)
    return float((before + after) / 2)


def _spread(report: Report) -> None:
    """Whole positions again."""
    blocks = list(report.blocks.order_by("position", "id"))
    for at, block in enumerate(blocks):
        block.position = float(at + 1)
    ReportBlock.objects.bulk_update(blocks, ["position"])


def look_at(report: Report, shown: dict[str, dict[str, str]], names: Iterable[str]) -> None:
    """Somebody has looked at these blocks as they are shown now."""
    for kept in report.blocks.filter(name__in=list(names), is_removed=False):
        now = shown.get(kept.name)
        if now is not None and kept.seen != now:
            ReportBlock.objects.filter(id=kept.id).update(seen=now)
