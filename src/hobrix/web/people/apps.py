from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "hobrix.web.people"
    label = "people"

    def ready(self) -> None:
        from hobrix.web.people import sessions

        sessions.listen()
