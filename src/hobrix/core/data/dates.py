"""Dates as people write them: told apart by the data where they can be."""

import datetime
import math
import re
from collections.abc import Iterable
from typing import Literal

# Year, month and day in this order.
DateForm = Literal["ymd", "dmy", "mdy"]

FORMS: dict[DateForm, str] = {
    "ymd": "year-month-day",
    "dmy": "day/month/year",
    "mdy": "month/day/year",
}
EPOCH = datetime.date(1970, 1, 1).toordinal()
# Spreadsheets count days from here. Numbers of fewer or more digits, such as years, are no days.
_SPREADSHEET_DAYS = (10_000, 99_999)
_SPREADSHEET = datetime.date(1899, 12, 30).toordinal() - EPOCH

_TIME = r"(?:[T ]\d{1,2}:\d{2}.*)?"
_YEAR_FIRST = re.compile(rf"^(\d{{4}})([-/.])(\d{{1,2}})\2(\d{{1,2}}){_TIME}$")
_YEAR_LAST = re.compile(rf"^(\d{{1,2}})([-/.])(\d{{1,2}})\2(\d{{4}}){_TIME}$")
_DAY_NAME_YEAR = re.compile(r"^(\d{1,2})[-/. ]([A-Za-z]{3,9})[-/., ]+(\d{4})$")
_NAME_DAY_YEAR = re.compile(r"^([A-Za-z]{3,9})\.? (\d{1,2}),? (\d{4})$")
_MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september",
    "october", "november", "december",
)  # fmt: skip


def day_of(text: str, form: DateForm) -> float | None:
    """Days since 1 January 1970 of a date written so, whatever the time of day; None for what is no
    such date. Months may be named in English."""
    text = text.strip()
    if found := _YEAR_FIRST.match(text):
        parts = (found[1], found[3], found[4]) if form == "ymd" else None
    elif found := _YEAR_LAST.match(text):
        by_form = {"dmy": (found[4], found[3], found[1]), "mdy": (found[4], found[1], found[3])}
        parts = by_form.get(form)
    elif form == "ymd":
        return None
    elif found := _DAY_NAME_YEAR.match(text):
        parts = (found[3], _month(found[2]), found[1])
    elif found := _NAME_DAY_YEAR.match(text):
        parts = (found[3], _month(found[1]), found[2])
    else:
        return None
    if parts is None:
        return None
    try:
        return float(datetime.date(*map(int, parts)).toordinal() - EPOCH)
    except ValueError:
        return None


def day_of_number(number: float) -> float | None:
    """Days since 1 January 1970 of a date as spreadsheets count it; None for other numbers."""
    low, high = _SPREADSHEET_DAYS
    return math.floor(number) + _SPREADSHEET if low <= number <= high else None


def best_form(texts: Iterable[str]) -> tuple[DateForm, int]:
    """The form in which most of them are dates, and how many."""
    known = list(texts)
    counts = {form: sum(day_of(text, form) is not None for text in known) for form in FORMS}
    form = max(counts, key=lambda each: counts[each])
    return form, counts[form]


def forms_of(texts: Iterable[str]) -> tuple[DateForm, ...]:
    """The forms in which all of them are dates."""
    known = list(texts)
    if not known:
        return ()
    return tuple(form for form in FORMS if all(day_of(text, form) is not None for text in known))


def date_of(day: float) -> datetime.date:
    """The date so many days after 1 January 1970."""
    return datetime.date.fromordinal(EPOCH + int(day))


def day_number(date: datetime.date) -> int:
    """Days since 1 January 1970."""
    return date.toordinal() - EPOCH


def _month(name: str) -> str:
    """Its number, or one that no month has."""
    found = [i for i, month in enumerate(_MONTHS, start=1) if month.startswith(name.lower())]
    return str(found[0]) if len(found) == 1 else "0"
