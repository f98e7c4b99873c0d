"""Letting people into a study by a link that works once."""

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from hobrix.core.errors import HobrixError
from hobrix.web.people.happenings import write_down
from hobrix.web.people.models import Invitation
from hobrix.web.studies.models import Membership, Role, Study


class NameTaken(HobrixError):
    """There is an account of this name already."""


class Unfit(HobrixError):
    """A name or password that cannot be taken; ``field`` is which."""

    def __init__(self, message: str, field: str) -> None:
        super().__init__(message)
        self.field = field


def invite(study: Study, user: Any, role: str, days: int) -> tuple[Invitation, str]:
    """An invitation and its secret, which is not kept."""
    secret = secrets.token_urlsafe(32)
    made = Invitation.objects.create(
        study=study,
        role=role,
        secret=_hash(secret),
        made_by=user,
        ends_at=timezone.now() + timedelta(days=days),
    )
    return made, secret


def invitation_of(secret: str) -> Invitation:
    """The invitation that still holds; raises Http404 for one that was used, ended or taken back."""
    found = (
        Invitation.objects.select_related("study", "made_by")
        .filter(
            secret=_hash(secret),
            used_at__isnull=True,
            ends_at__gt=timezone.now(),
            study__deleted_at__isnull=True,
        )
        .first()
    )
    if found is None:
        raise Http404("This invitation holds no more.")
    return found


def accept(secret: str, user: Any) -> Membership:
    """Let somebody in. Who is a member already keeps the greater of both roles."""
    with transaction.atomic():
        found = invitation_of(secret)
        used = Invitation.objects.filter(pk=found.pk, used_at__isnull=True)
        if not used.update(used_at=timezone.now()):
            raise Http404("This invitation holds no more.")
        member, is_new = Membership.objects.get_or_create(
            study=found.study, user=user, defaults={"role": found.role}
        )
        if not is_new and _rank(found.role) < _rank(member.role):
            member.role = found.role
            member.save(update_fields=["role"])
        write_down(found.study_id, user, f"joined as “{member.role}”")
    return member


def new_account(name: str, password: str) -> Any:
    """
    Raises:
        NameTaken, Unfit: with the reason in words.
    """
    users = get_user_model()
    name = name.strip()
    try:
        users._meta.get_field("username").run_validators(name)
    except ValidationError as error:
        raise Unfit(" ".join(error.messages), "username") from None
    if not name:
        raise Unfit("Choose a name to sign in with.", "username")
    if users.objects.filter(username__iexact=name).exists():
        raise NameTaken(
            f"There is already an account called {name}. Sign in with it, or take another name."
        )
    check_password(password)
    return users.objects.create_user(username=name, password=password)


def check_password(password: str, user: Any = None) -> None:
    """Raises Unfit for a password that is too easy."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Unfit(" ".join(error.messages), "password") from None


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def _rank(role: str) -> int:
    return Role.values.index(role)
