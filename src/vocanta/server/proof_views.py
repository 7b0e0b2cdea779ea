"""The REST views of proofs."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from . import listing, proof_readings, readings, shapes
from .changes import read_changes
from .jobs import at_work_for
from .maps import map_from
from .programs import compiled_project
from .proof_shapes import MapReading, ProofAsked, ProofReading, WayValues
from .proofs import PROVING, known_proof
from .schema import AT_POINT, JOB, answers, asks

MOST_BUDGET_S = 86_400.0
STAMP = OpenApiParameter("stamp", int, description="What the caller has seen; something newer is waited for.")


class Proof(APIView):
    """What a project is proved to be."""

    @extend_schema(operation_id="proof", parameters=[STAMP], responses=answers(ProofReading))
    def get(self, request: Request, project: int) -> Response:
        """Every verdict as far as it is known; nothing is begun by it."""
        found, stamp = listing.found_project(project), request.query_params.get("stamp", "")
        known = known_proof(found, listing.whole_number(stamp), going=False)
        return Response(shapes.dumped(proof_readings.proof_reading(found, known)))

    @extend_schema(operation_id="proof_do", request=asks(ProofAsked), responses=answers(ProofReading))
    def post(self, request: Request, project: int) -> Response:
        """Prove what was edited since, prove all of it again within so many seconds, or stop; nothing is kept of what was
        stopped."""
        found, asked = listing.found_project(project), shapes.read_body(request.data, ProofAsked)
        if asked.do == "stop":
            PROVING.stop(found)
            known = known_proof(found, None, going=False)
        elif asked.do == "go":
            known = known_proof(found, None)
        else:
            known = known_proof(found, None, anew=True, budget_s=min(max(0.0, asked.budget_s), MOST_BUDGET_S))
        return Response(shapes.dumped(proof_readings.proof_reading(found, known)))


class ProofMap(APIView):
    """The map of the gates."""

    @extend_schema(operation_id="proof_map", request=None, parameters=[*AT_POINT, JOB], responses=answers(MapReading))
    def post(self, request: Request, project: int) -> Response:
        """What becomes possible after what, as if at `quest` and `stage` with `changes`; worked out anew, which takes a while."""
        found, asked = listing.found_project(project), request.query_params
        here, quest, stage = compiled_project(found), asked.get("quest", ""), asked.get("stage", "")
        way, changes = PROVING.way_to(found, quest, stage), read_changes(asked.get("changes", ""))
        chosen = readings.as_if_at(here, quest, stage, changes, way)
        columns = here.program.columns
        row = [c.start for c in columns] if chosen is None else chosen.row
        puts = tuple((c.name, value) for c, value in zip(columns, row, strict=True) if value != c.start)
        with at_work_for(request) as note:
            gates = map_from(found, puts, note)
        return Response(shapes.dumped(proof_readings.map_reading(found, gates)))


class ProofWay(APIView):
    """The way of one verdict."""

    @extend_schema(operation_id="proof_way", responses=answers(WayValues))
    def get(self, request: Request, project: int, of: str, what: str) -> Response:
        """What a start card at its end and a walk that goes it would hold."""
        found = listing.found_project(project)
        known = known_proof(found, None, going=False)
        return Response(shapes.dumped(proof_readings.way_values(found, known, f"{of}/{what}")))
