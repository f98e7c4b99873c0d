"""The one place that decides who may see and change a study.

Whatever belongs to a study is reached through here. To anyone who is not a member, a study
does not exist: the answer is 404, never 403.
"""

from typing import Any
from uuid import UUID

from django.http import Http404

from hobrix.web.studies.models import DataSet, Membership, Role, SavedQuestion, Study
from hobrix.web.studies.terms import TermsAsked, pending

MAY_CHANGE = (Role.OWNER, Role.ANALYST)


class Forbidden(Exception):
    """A member of the study whose role does not allow this."""


def study_for(user: Any, study_id: UUID, *roles: Role, deleted: bool = False) -> Study:
    """The study, when the user is a member in one of the roles (any role when none is named).

    Raises:
        Http404: there is no such study, or the user is no member of it.
        Forbidden: the user is a member, in another role.
    """
    membership = (
        Membership.objects.select_related("study")
        .filter(user=user, study_id=study_id, study__deleted_at__isnull=not deleted)
        .first()
    )
    if membership is None:
        raise Http404("There is no such study.")
    if roles and membership.role not in roles:
        raise Forbidden
    return membership.study


# Every question passes here, and asking takes a tenth as long as putting the same query together.
_FIND = f"""
    SELECT dataset.*, membership.role AS role
    FROM {DataSet._meta.db_table} AS dataset
    JOIN {Study._meta.db_table} AS study ON study.id = dataset.study_id
    JOIN {Membership._meta.db_table} AS membership ON membership.study_id = study.id
    WHERE dataset.id = %s AND study.id = %s AND membership.user_id = %s
        AND study.deleted_at IS NULL AND (dataset.deleted_at IS NOT NULL) = %s
"""


def dataset_for(
    user: Any,
    study_id: UUID,
    dataset_id: UUID,
    *roles: Role,
    deleted: bool = False,
    unread: bool = False,
) -> DataSet:
    """A data set of a study the user may see; raises as ``study_for`` does.

    Raises:
        TermsAsked: the user has not accepted the terms of what it is made from (not asked where
            nothing of it is read: ``unread``).
    """
    keys = [key.hex for key in (dataset_id, study_id)]
    found = next(iter(DataSet.objects.raw(_FIND, [*keys, user.pk, deleted])), None)
    if found is None:
        study_for(user, study_id, *roles)
        raise Http404("There is no such data set.")
    if roles and vars(found)["role"] not in roles:
        raise Forbidden
    if found.is_bound and not unread and (asked := pending(user, found)):
        raise TermsAsked(asked)
    return found


def question_for(
    user: Any, study_id: UUID, question_id: UUID, *roles: Role, deleted: bool = False
) -> SavedQuestion:
    """A question of a study the user may see; raises as ``study_for`` does."""
    study = study_for(user, study_id, *roles)
    question = (
        study.questions.select_related("dataset")
        .filter(id=question_id, deleted_at__isnull=not deleted)
        .first()
    )
    if question is None:
        raise Http404("There is no such question.")
    if asked := pending(user, question.dataset):
        raise TermsAsked(asked)
    return question
