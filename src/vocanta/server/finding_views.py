"""The REST views of findings."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from . import findings, listing, models, shapes
from .finding_shapes import FindingAnswer, FindingShape, FindingsReading, MarksReading, TogetherShape
from .schema import answers

EDIT = OpenApiParameter(
    "edit", int, description="The edit number that the caller has: findings of it, or of a later one."
)
WHOLE = OpenApiParameter("whole", bool, description="1 to wait until all of them are there.")
FILTERS = [OpenApiParameter(name, str) for name in ("weight", "check", "level", "quest", "words")]
ASIDE = OpenApiParameter("aside", bool, description="1 for those that were put aside as right as they are.")
PAGE = OpenApiParameter("page", int, description="From 0.")


class FindingList(APIView):
    """The findings of a project."""

    @extend_schema(
        operation_id="findings", parameters=[EDIT, WHOLE, ASIDE, PAGE, *FILTERS], responses=answers(FindingsReading)
    )
    def get(self, request: Request, project: int) -> Response:
        """A page of those that were asked for, with counts of all; what is `aside` was put aside."""
        found = listing.found_project(project)
        return Response(shapes.dumped(findings.reading(found, request.query_params.dict())))


class MarkList(APIView):
    """Findings by record."""

    @extend_schema(operation_id="marks", parameters=[EDIT, WHOLE], responses=answers(MarksReading))
    def get(self, request: Request, project: int) -> Response:
        """How many findings each record has, and the heaviest in words."""
        found = listing.found_project(project)
        return Response(shapes.dumped(findings.marks(found, request.query_params.dict())))


class RecordFindings(APIView):
    """The findings of one record."""

    @extend_schema(operation_id="record_findings", parameters=[EDIT, WHOLE], responses=answers(FindingShape, many=True))
    def get(self, request: Request, project: int, record: int) -> Response:
        """Those at a record, at what it owns, and about it; none at a record that is not there, or no longer."""
        found = listing.found_project(project)
        below = models.Record.objects.filter(project=found, owner_id=record).values_list("pk", flat=True)
        mine = findings.of_record(found, request.query_params.dict(), {record, *below})
        return Response([shapes.dumped(one) for one in mine])


class FindingOne(APIView):
    """One finding."""

    @extend_schema(operation_id="finding", responses=answers(FindingAnswer))
    def get(self, request: Request, project: int, key: str) -> Response:
        """What it means, where it stands, and what its mends write."""
        return Response(shapes.dumped(findings.detail(listing.found_project(project), key)))


class MendTogether(APIView):
    """One mend for many findings."""

    @extend_schema(
        operation_id="mend_together",
        parameters=[OpenApiParameter("label", str, required=True)],
        responses=answers(TogetherShape),
    )
    def get(self, request: Request, project: int, check: str) -> Response:
        """The changes that mend every finding of a check that has a mend of this label; nothing is written by that."""
        label = request.query_params.get("label", "")
        return Response(shapes.dumped(findings.together(listing.found_project(project), check, label)))
