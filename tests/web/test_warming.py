"""What a process does before its first work: every lens is asked, and none of it fails."""

from collections import Counter
from typing import Any

import pytest
from django.utils.module_loading import import_string

from hobrix.core.questions import answer
from hobrix.core.questions.lenses import LENSES
from hobrix.web.config import settings
from hobrix.web.studies import warming


def test_every_lens_is_asked_before_anybody_does(monkeypatch: pytest.MonkeyPatch) -> None:
    given: Counter[str] = Counter()

    def counting(question: Any, *args: Any, **options: Any) -> Any:
        found = answer(question, *args, **options)
        given[question.lens] += 1
        return found

    monkeypatch.setattr(warming, "answer", counting)
    import_string(settings.WARM_UP)()
    assert set(given) == {lens.name for lens in LENSES}
