"""The description of the API: models that share a name would be merged into one, silently."""

from collections import defaultdict

from pydantic import BaseModel

from hobrix.web.api import api


def all_models(base: type[BaseModel]) -> set[type[BaseModel]]:
    found = set()
    for model in base.__subclasses__():
        found |= {model} | all_models(model)
    return found


def test_no_two_models_share_a_name() -> None:
    assert api.get_openapi_schema()["paths"]
    modules = defaultdict(set)
    for model in all_models(BaseModel):
        if model.__module__.startswith("hobrix."):
            modules[model.__name__].add(model.__module__)
    assert {name: where for name, where in modules.items() if len(where) > 1} == {}
