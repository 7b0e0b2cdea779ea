"""The REST views of proofs."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from . import listing, proof_readings, shapes
from .proof_shapes import ProofAsked, ProofReading, WayValues
from .proofs import PROVING, known_proof
from .schema import answers, asks

STAMP = OpenApiParameter("stamp", int, description="What the caller has seen; something newer is waited for.")


class Proof(APIView):
    """What a project is proved to be."""

    @extend_schema(operation_id="proof", parameters=[STAMP], responses=answers(ProofReading))
    def get(self, request: Request, project: int) -> Response:
        """Every verdict as far as it is known; a project that was edited since is proved again meanwhile."""
        found, stamp = listing.found_project(project), request.query_params.get("stamp", "")
        known = known_proof(found, int(stamp) if stamp.isdigit() else None)
        return Response(shapes.dumped(proof_readings.proof_reading(found, known)))

    @extend_schema(operation_id="proof_do", request=asks(ProofAsked), responses=answers(ProofReading))
    def post(self, request: Request, project: int) -> Response:
        """Prove all of it again within so many seconds, or stop; nothing is kept of what was stopped."""
        found, asked = listing.found_project(project), shapes.read_body(request.data, ProofAsked)
        if asked.do == "stop":
            PROVING.stop(found)
            known = known_proof(found, None, going=False)
        else:
            known = known_proof(found, None, anew=True, budget_s=max(0.0, asked.budget_s))
        return Response(shapes.dumped(proof_readings.proof_reading(found, known)))


class ProofWay(APIView):
    """The way of one verdict."""

    @extend_schema(operation_id="proof_way", responses=answers(WayValues))
    def get(self, request: Request, project: int, of: str, what: str) -> Response:
        """What a start card at its end and a walk that goes it would hold."""
        found = listing.found_project(project)
        known = known_proof(found, None, going=False)
        return Response(shapes.dumped(proof_readings.way_values(found, known, f"{of}/{what}")))
