"""The API: thin routers that check access, validate, call one function and return its model."""

from ninja import NinjaAPI
from ninja.security import django_auth

from hobrix.web.api import (
    account,
    answers,
    bringing,
    codebook,
    codebook_files,
    compare,
    datasets,
    jobs,
    lenders,
    operator,
    people,
    places,
    problems,
    questions,
    report_pages,
    reports,
    session,
    studies,
    subsets,
    terms,
)

api = NinjaAPI(title="Hobrix", version="1", auth=django_auth, docs_url=None, urls_namespace="api")
api.add_router("/session", session.router, tags=["session"])
api.add_router("/operator", operator.router, tags=["operator"])
api.add_router("/account", account.router, tags=["account"])
api.add_router("/invitations", account.invitations, tags=["account"])
api.add_router("/studies", studies.router, tags=["studies"])
api.add_router("/studies/{study_id}", people.router, tags=["people"])
api.add_router("/studies/{study_id}/datasets", datasets.router, tags=["datasets"])
api.add_router("/studies/{study_id}/datasets/{dataset_id}", codebook.router, tags=["codebook"])
api.add_router(
    "/studies/{study_id}/datasets/{dataset_id}/codebook-file",
    codebook_files.router,
    tags=["datasets"],
)
api.add_router(
    "/studies/{study_id}/datasets/{dataset_id}/recipe", bringing.of_dataset, tags=["bringing"]
)
api.add_router("/studies/{study_id}/datasets/{dataset_id}/terms", terms.router, tags=["datasets"])
api.add_router(
    "/studies/{study_id}/datasets/{dataset_id}/newer", lenders.of_dataset, tags=["lenders"]
)
api.add_router(
    "/studies/{study_id}/datasets/{dataset_id}/read-again", places.of_dataset, tags=["places"]
)
api.add_router("/studies/{study_id}/places", places.router, tags=["places"])
api.add_router("/studies/{study_id}/lenders", lenders.router, tags=["lenders"])
api.add_router("/studies/{study_id}/bring", bringing.router, tags=["bringing"])
api.add_router("/studies/{study_id}/questions", questions.router, tags=["questions"])
api.add_router("/studies/{study_id}/answer", answers.router, tags=["answers"])
api.add_router("/studies/{study_id}/compare", compare.router, tags=["answers"])
api.add_router("/studies/{study_id}/reports", reports.router, tags=["reports"])
api.add_router("/studies/{study_id}/reports/{report_id}", report_pages.router, tags=["reports"])
api.add_router("/studies/{study_id}/subsets", subsets.router, tags=["subsets"])
api.add_router("/studies/{study_id}/jobs", jobs.router, tags=["jobs"])
problems.install(api)

__all__ = ["api"]
