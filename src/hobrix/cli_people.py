"""`hobrix user | study | job`: what the operator does about people and their studies."""

from typing import Any

import click

from hobrix.web import serving


class Refused(click.ClickException):
    """What cannot be done, in words."""

    exit_code = 2


@click.group("user")
def user() -> None:
    """People who may sign in."""


@user.command("add")
@click.argument("name")
@click.password_option(help="Asked for when left out.")
def add_user(name: str, password: str) -> None:
    """Create a user who signs in with NAME and a password."""
    serving.prepare()
    from hobrix.core.errors import HobrixError
    from hobrix.web.people.inviting import new_account

    try:
        new_account(name, password)
    except HobrixError as error:
        raise Refused(error.message) from None
    click.echo(f"{name} can sign in now.")


@user.command("password")
@click.argument("name")
@click.password_option(help="Asked for when left out.")
def set_password(name: str, password: str) -> None:
    """Give NAME another password; that signs them out everywhere."""
    found = _user(name)
    from hobrix.core.errors import HobrixError
    from hobrix.web.people.inviting import check_password

    try:
        check_password(password, found)
    except HobrixError as error:
        raise Refused(error.message) from None
    found.set_password(password)
    found.save(update_fields=["password"])
    click.echo(f"{name} has another password now.")


@user.command("operator")
@click.argument("name")
@click.option("--no", is_flag=True, help="Not any more.")
def make_operator(name: str, no: bool) -> None:
    """Let NAME see the operator's page: people, studies, sizes and jobs, no data."""
    found = _user(name)
    found.is_staff = not no
    found.save(update_fields=["is_staff"])
    click.echo(f"{name} {'no longer sees' if no else 'sees'} the operator's page.")


@user.command("list")
def list_users() -> None:
    """Everybody, with their studies and the size of their files."""
    serving.prepare()
    from hobrix.web.people.overview import everybody

    for each in everybody():
        last = f"{each.last_seen:%Y-%m-%d}" if each.last_seen else "never"
        what = "operator" if each.is_operator else ""
        click.echo(
            f"{each.name}\t{each.studies} studies\t{each.bytes / 1e6:,.1f} MB\t{last}\t{what}"
        )


@user.command("share")
@click.argument("name")
@click.argument("study")
@click.option("--role", type=click.Choice(["owner", "analyst", "reader"]), default="reader")
def share(name: str, study: str, role: str) -> None:
    """Give the user NAME a role in the study with the id STUDY."""
    found, shared = _user(name), _study(study)
    from hobrix.web.studies.models import Membership

    Membership.objects.update_or_create(study=shared, user=found, defaults={"role": role})
    click.echo(f"{name} is {role} of {shared} now.")


@user.command("invite")
@click.argument("study")
@click.option("--role", type=click.Choice(["owner", "analyst", "reader"]), default="reader")
@click.option("--by", required=True, help="The owner who invites.")
@click.option("--days", default=7, show_default=True)
@click.option("--base", default="http://127.0.0.1:8000", show_default=True)
def invite_to(study: str, role: str, by: str, days: int, base: str) -> None:
    """Print a link that lets one person into STUDY, once; it makes their account if they have none."""
    owner, shared = _user(by), _study(study)
    from hobrix.web.people.inviting import invite

    _, secret = invite(shared, owner, role, days)
    click.echo(f"{base}/join/{secret}")


@user.command("remove")
@click.argument("name")
@click.argument("study")
def remove(name: str, study: str) -> None:
    """Take NAME out of the study with the id STUDY."""
    found, shared = _user(name), _study(study)
    if not shared.memberships.filter(user=found).delete()[0]:
        raise Refused(f"{name} is not in {shared}.")
    click.echo(f"{name} is not in {shared} any more.")


@click.group("study")
def study_group() -> None:
    """Studies, as whoever runs Hobrix sees them."""


@study_group.command("list")
def list_studies() -> None:
    """Every study with its id, owners, data sets and size."""
    serving.prepare()
    from hobrix.web.people.overview import all_studies

    for each in all_studies():
        gone = "deleted" if each.is_deleted else ""
        sizes = f"{each.datasets} data sets\t{each.bytes / 1e6:,.1f} MB"
        click.echo(f"{each.id}\t{each.name}\t{each.owners}\t{each.people} people\t{sizes}\t{gone}")


@study_group.command("log")
@click.argument("study")
def study_log(study: str) -> None:
    """Who did what in STUDY, newest first."""
    for each in _study(study).happenings.all():
        click.echo(f"{each.at:%Y-%m-%d %H:%M}\t{each.who}\t{each.words}")


@click.group("job")
def job() -> None:
    """Long work."""


@job.command("list")
def list_jobs() -> None:
    """Work that waits, runs or failed."""
    serving.prepare()
    from hobrix.web.jobs.models import Job, JobState

    for each in Job.objects.exclude(state__in=[JobState.DONE, JobState.STOPPED]):
        click.echo(f"{each.id}\t{each.kind}\t{each.file_name}\t{each.state}\t{each.progress:.0%}")


def _user(name: str) -> Any:
    serving.prepare()
    from django.contrib.auth import get_user_model

    found = get_user_model().objects.filter(username=name).first()
    if found is None:
        raise Refused(f"There is no user called {name}.")
    return found


def _study(key: str) -> Any:
    serving.prepare()
    from django.core.exceptions import ValidationError

    from hobrix.web.studies.models import Study

    try:
        found = Study.objects.filter(id=key).first()
    except ValidationError:
        found = None
    if found is None:
        raise Refused(f"There is no study with the id {key}.")
    return found


COMMANDS = (user, study_group, job)
