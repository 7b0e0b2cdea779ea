"""The REST views of kept walks and of runs."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from . import listing, shapes, walk_readings
from .schema import answers, asks
from .walk_shapes import ComparedShape, RunShape, WalkNow, WalksAsked, WalksReading
from .walking import REWALKING
from .writing import writing

STAMP = OpenApiParameter("stamp", int, description="What the caller has seen; something newer is waited for.")


class Walks(APIView):
    """The kept walks."""

    @extend_schema(operation_id="walks", parameters=[STAMP], responses=answers(WalksReading))
    def get(self, request: Request, project: int) -> Response:
        """What each comes to, as far as it is known; nothing is begun by it."""
        found, stamp = listing.found_project(project), request.query_params.get("stamp", "")
        known = REWALKING.known(found, listing.whole_number(stamp), going=False)
        return Response(shapes.dumped(walk_readings.walks_reading(found, known)))

    @extend_schema(operation_id="walks_do", request=asks(WalksAsked), responses=answers(WalksReading))
    def post(self, request: Request, project: int) -> Response:
        """Walk those that were not walked since the project is as it is now, walk all of them again, or stop."""
        found, asked = listing.found_project(project), shapes.read_body(request.data, WalksAsked)
        if asked.do == "stop":
            REWALKING.stop(found)
        known = REWALKING.known(found, None, anew=asked.do == "again", going=asked.do != "stop")
        return Response(shapes.dumped(walk_readings.walks_reading(found, known)))


class WalkOneNow(APIView):
    """A kept walk as it goes now."""

    @extend_schema(operation_id="walk_now", responses=answers(WalkNow))
    def get(self, request: Request, project: int, record: int) -> Response:
        """The values that it is changed to where what it comes to now is right."""
        return Response(shapes.dumped(walk_readings.walk_now(listing.found_project(project), record)))


class Runs(APIView):
    """The runs that are kept."""

    @extend_schema(operation_id="runs", responses=answers(RunShape, many=True))
    def get(self, request: Request, project: int) -> Response:
        """The newest first."""
        found = listing.found_project(project)
        return Response([shapes.dumped(one) for one in walk_readings.runs_of(found)])


class RunOne(APIView):
    """One run."""

    @extend_schema(operation_id="run_delete", responses=answers(RunShape, many=True))
    def delete(self, request: Request, project: int, run: int) -> Response:
        """Delete it for good; the runs that are left."""
        found = listing.found_project(project)
        with writing():
            walk_readings.found_run(found, run).delete()
        return Response([shapes.dumped(one) for one in walk_readings.runs_of(found)])


class RunsCompared(APIView):
    """Two runs beside each other."""

    @extend_schema(operation_id="runs_compared", responses=answers(ComparedShape))
    def get(self, request: Request, project: int, run: int, other: int) -> Response:
        """Where they part ways first, and what each came to."""
        return Response(shapes.dumped(walk_readings.compared(listing.found_project(project), run, other)))
