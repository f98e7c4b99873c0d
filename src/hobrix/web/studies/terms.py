"""Terms of use: who accepted which text, and who has to before anything of the data is shown."""

from collections.abc import Iterable
from typing import Any
from uuid import UUID

from hobrix.web.studies.models import Acceptance, DataSet, MadeFrom


class TermsAsked(Exception):
    """Terms that this person has not accepted; ``datasets`` have them."""

    def __init__(self, datasets: list[DataSet]) -> None:
        super().__init__("terms")
        self.datasets = datasets


def pending(user: Any, dataset: DataSet) -> list[DataSet]:
    """Data sets among this and what it is made from whose terms the user has not accepted."""
    if not dataset.is_bound:
        return []
    with_terms = [each for each in lineage(dataset) if each.terms]
    accepted = set(
        Acceptance.objects.filter(
            user=user, dataset__study_id=dataset.study_id, text__in=[d.terms for d in with_terms]
        ).values_list("text", flat=True)
    )
    return [each for each in with_terms if each.terms not in accepted]


def pending_in(user: Any, study: UUID) -> dict[UUID, list[DataSet]]:
    """The same for every data set of a study that there is anything to accept for, asked at once."""
    with_terms = {
        each.id: each for each in DataSet.objects.filter(study_id=study).exclude(terms="")
    }
    if not with_terms:
        return {}
    accepted = set(
        Acceptance.objects.filter(
            user=user, dataset__study_id=study, text__in=[d.terms for d in with_terms.values()]
        ).values_list("text", flat=True)
    )
    asked = [each for each in with_terms.values() if each.terms not in accepted]
    found = {each.id: [each] for each in asked}
    made: dict[UUID, list[UUID]] = {}
    for dataset, source in MadeFrom.objects.filter(dataset__study_id=study).values_list(
        "dataset_id", "source_id"
    ):
        made.setdefault(source, []).append(dataset)
    # What is asked for a data set is asked for all that rests on it.
    for terms in asked:
        ahead = [terms.id]
        while ahead:
            for above in made.get(ahead.pop(), []):
                if terms not in found.setdefault(above, []):
                    found[above].append(terms)
                    ahead.append(above)
    return found


def accept(user: Any, datasets: Iterable[DataSet]) -> None:
    """Keep that the user accepted the terms of these as they stand."""
    Acceptance.objects.bulk_create(
        Acceptance(user=user, dataset=dataset, text=dataset.terms) for dataset in datasets
    )


def lineage(dataset: DataSet) -> list[DataSet]:
    """The data set and all that it is made from, directly or not, also what was deleted since."""
    found, ahead = {dataset.id: dataset}, [dataset]
    while ahead:
        links = ahead.pop().made_from.select_related("source")
        for source in (link.source for link in links):
            if source.id not in found:
                found[source.id] = source
                ahead.append(source)
    return list(found.values())


def bind(dataset: DataSet) -> None:
    """Terms of a data set bind it and all that is made from it, from now on."""
    ahead = [dataset]
    while ahead:
        each = ahead.pop()
        is_bound = any(one.terms for one in lineage(each))
        DataSet.objects.filter(pk=each.pk).update(is_bound=is_bound)
        ahead += [link.dataset for link in each.rests_on_it.select_related("dataset")]
