"""The REST views: each reads the request, calls a service, and gives its answer."""

from __future__ import annotations

import json
from contextlib import nullcontext
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import views as rest
from rest_framework.renderers import BaseRenderer, JSONRenderer
from rest_framework.request import Request
from rest_framework.response import Response

from ..core.cuetext.rearranging import rearranged
from ..core.cuetext.reference import explained
from ..core.cuetext.supply import Supply, supply_of
from ..core.project.assets import MOST_BYTES, folded
from ..core.project.fileformat import json_schema
from ..core.project.media import Unreadable, media_of
from ..core.project.problems import Problem
from ..core.project.starters import STARTERS
from ..core.space.measuring import measured
from . import (
    bulk,
    choices,
    duplicating,
    edits,
    flows,
    housekeeping,
    jobs,
    listing,
    models,
    offering,
    placing,
    readings,
    shapes,
    sounding,
    starting,
    store,
    undoing,
    using,
)
from .changes import read_changes
from .events import BOARD, key_of
from .gone import end_all_of
from .programs import compiled_project
from .proofs import PROVING
from .refusals import Refused, not_found
from .schema import AT_POINT, JOB, ROWS, answers, asks
from .streams import following
from .telling import rows_of
from .writing import one_look

TAB = OpenApiParameter("tab", str, OpenApiParameter.QUERY)
ASK = OpenApiParameter("ask", str, OpenApiParameter.QUERY)
IF_MATCH = OpenApiParameter("If-Match", str, OpenApiParameter.HEADER, required=True)


class APIView(rest.APIView):
    """A view whose answers are of one moment: nothing that is read for them is changed or deleted in between."""

    def dispatch(self, request: Any, *args: Any, **kwargs: Any) -> Any:
        """Answer; what is only read is read at one look."""
        with one_look() if request.method == "GET" else nullcontext():
            return super().dispatch(request, *args, **kwargs)


class ProjectList(APIView):
    """The list of projects."""

    @extend_schema(operation_id="projects", responses=answers(shapes.ProjectLine, many=True))
    def get(self, request: Request) -> Response:
        """Every project, the last changed first."""
        return Response([shapes.dumped(line) for line in listing.all_projects()])

    @extend_schema(operation_id="new_project", request=asks(shapes.NameAsked), responses={201: OpenApiTypes.OBJECT})
    def post(self, request: Request) -> Response:
        """A new project of one room."""
        asked = shapes.read_body(request.data, shapes.NameAsked)
        return Response({"id": listing.new_project(asked.name).pk}, status=201)


def _whole(request: Request) -> bytes:
    """The body as it was sent: a project's own file may be larger than any edit. Raises `Refused` 413."""
    data = request._request.read(MOST_BYTES + 1)
    if len(data) > MOST_BYTES:
        message = f"A project's file may have {MOST_BYTES // 2**20} MB."
        raise Refused(
            413, "Too large", [Problem("too_large", message, "Leave out sounds, or split the project.", "file")]
        )
    return data


class JobOne(APIView):
    """Long work that goes on."""

    @extend_schema(operation_id="job", responses=answers(shapes.JobLine) | {204: None})
    def get(self, request: Request, name: str) -> Response:
        """How far it has come; nothing where it is done, or not begun yet: whoever asks cannot know when that is."""
        job = jobs.job_at_work(name)
        if job is None:
            return Response(status=204)
        return Response(shapes.dumped(shapes.JobLine(job.what, job.done, job.of)))

    @extend_schema(operation_id="stop_job", responses={204: None})
    def delete(self, request: Request, name: str) -> Response:
        """Stop it; nothing of it is kept."""
        job = jobs.job_at_work(name)
        if job is None:
            raise not_found("work", name)
        job.stopped = True
        return Response(status=204)


class ProjectFileIn(APIView):
    """Filing in."""

    @extend_schema(
        operation_id="file_in", parameters=[JOB], request=OpenApiTypes.OBJECT, responses={201: OpenApiTypes.OBJECT}
    )
    def post(self, request: Request) -> Response:
        """A new project from a project file or its zip, sent as the body."""
        data = _whole(request)
        with jobs.at_work_for(request) as note:
            made, drafts = listing.filed_in(data, note)
        return Response({"id": made.pk, "drafts": [p.as_dict() for p in drafts]}, status=201)


class ProjectOne(APIView):
    """One project."""

    @extend_schema(operation_id="rows", parameters=[TAB], responses=ROWS)
    def get(self, request: Request, project: int) -> Response:
        """Every record; the edit number is the ETag, and what undo and redo would do stands in two headers."""
        found = listing.found_project(project)
        response = Response(listing.rows(found))
        response["ETag"] = f'"{found.edit_number}"'
        undo, redo = edits.can_undo(found, request.query_params.get("tab", ""))
        response["Undo-Name"], response["Redo-Name"] = json.dumps(undo), json.dumps(redo)
        return response

    @extend_schema(operation_id="delete_project", responses={204: None})
    def delete(self, request: Request, project: int) -> Response:
        """Delete a project; it can be brought back."""
        gone = listing.found_project(project)
        listing.set_deleted(project, True)
        end_all_of(gone)
        return Response(status=204)


class DeletedList(APIView):
    """The deleted projects."""

    @extend_schema(operation_id="deleted_projects", responses=answers(shapes.DeletedLine, many=True))
    def get(self, request: Request) -> Response:
        """Every one that can be brought back, the one deleted last first."""
        return Response([shapes.dumped(line) for line in listing.deleted_projects()])


class Kept(APIView):
    """How much is kept."""

    @extend_schema(operation_id="kept", responses=answers(shapes.KeptShape))
    def get(self, request: Request) -> Response:
        """Edits and walks of a project by their number, deleted projects by days."""
        kept = shapes.KeptShape(housekeeping.KEPT_EDITS, housekeeping.KEPT_RUNS, housekeeping.DELETED.days)
        return Response(shapes.dumped(kept))


class ProjectBack(APIView):
    """Bringing a project back."""

    @extend_schema(operation_id="bring_back", request=None, responses={204: None})
    def post(self, request: Request, project: int) -> Response:
        """Bring a deleted project back."""
        listing.set_deleted(project, False)
        return Response(status=204)


class ProjectCopy(APIView):
    """Copying a project."""

    @extend_schema(operation_id="copy_project", parameters=[JOB], request=None, responses={201: OpenApiTypes.OBJECT})
    def post(self, request: Request, project: int) -> Response:
        """A copy with a history of its own."""
        with jobs.at_work_for(request) as note:
            return Response({"id": listing.copied(project, note).pk}, status=201)


class ProjectFileOut(APIView):
    """Filing out."""

    @extend_schema(operation_id="file_out", parameters=[JOB], responses={200: OpenApiTypes.OBJECT})
    def get(self, request: Request, project: int) -> HttpResponse:
        """The project file."""
        found = listing.found_project(project)
        with jobs.at_work_for(request) as note:
            text = listing.filed_out(found, note)
        response = HttpResponse(text, content_type="application/json; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="project-{found.pk}.vocanta.json"'
        return response


class ProjectPackage(APIView):
    """Filing out with assets."""

    @extend_schema(operation_id="package", parameters=[JOB], responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, project: int) -> HttpResponse:
        """The project file and its assets as one zip."""
        found = listing.found_project(project)
        with jobs.at_work_for(request) as note:
            data = folded(listing.packed(found, note))
        response = HttpResponse(data, content_type="application/zip")
        response["Content-Disposition"] = f'attachment; filename="project-{found.pk}.vocanta.zip"'
        return response


ASSET_POLICY = "default-src 'none'; sandbox; frame-ancestors 'none'"


def served_asset(data: bytes) -> HttpResponse:
    """A sound or picture as what it is by its content, so that no browser takes it for a page; else as a file to keep."""
    try:
        media_type = media_of(data).type
    except Unreadable:
        media_type = ""
    response = HttpResponse(data, content_type=media_type or "application/octet-stream")
    response["Content-Disposition"] = "inline" if media_type else "attachment"
    response["Content-Security-Policy"] = ASSET_POLICY
    response["X-Content-Type-Options"] = "nosniff"
    response["Cache-Control"] = "public, max-age=31536000, immutable"
    return response


class AssetOne(APIView):
    """One sound or picture."""

    @extend_schema(operation_id="asset", responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, project: int, name: str) -> HttpResponse:
        """Its bytes; a name never stands for anything else, so it may be kept for good."""
        asset = listing.found_project(project).assets.filter(name=name).first()
        if asset is None:
            raise not_found("asset", name)
        return served_asset(bytes(asset.data))


class Edits(APIView):
    """Edits of a project."""

    @extend_schema(operation_id="edit", request=asks(shapes.EditAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int) -> Response:
        """One named edit, whole or not at all."""
        return Response(shapes.dumped(edits.apply_edit(project, shapes.read_body(request.data, shapes.EditAsked))))

    @extend_schema(operation_id="history", parameters=[TAB], responses=answers(shapes.HistoryLine, many=True))
    def get(self, request: Request, project: int) -> Response:
        """The last 200 edits as sentences, newest first."""
        found, tab = listing.found_project(project), request.query_params.get("tab", "")
        lines = [
            shapes.HistoryLine(e.number, e.name, e.state, e.at.isoformat(), e.tab == tab, e.tab)
            for e in found.edits.exclude(state="dropped").order_by("-number")[:200]
        ]
        return Response([shapes.dumped(line) for line in lines])


class EventRenderer(BaseRenderer):
    """Server-sent events: what a stream of edits is asked for as."""

    media_type, format = "text/event-stream", "event-stream"

    def render(self, data: Any, accepted_media_type: str | None = None, renderer_context: Any = None) -> bytes:
        """A refusal, which is no stream."""
        return json.dumps(data).encode()


class Events(APIView):
    """What everybody does in a project."""

    renderer_classes = (EventRenderer, JSONRenderer)

    @extend_schema(
        operation_id="events",
        parameters=[OpenApiParameter("after", int, description="The edit number that the caller knows.")],
        responses={(200, "text/event-stream"): {"$ref": "#/components/schemas/EventShape"}},
    )
    def get(self, request: Request, project: int) -> HttpResponse:
        """Each edit as it is made, as server-sent events; `data` is an EventShape, `id` the edit number."""
        found = listing.found_project(project)
        asked = request.headers.get("Last-Event-ID") or request.query_params.get("after", "")
        after = listing.whole_number(asked)
        known = found.edit_number if after is None else after
        if BOARD.full():
            problem = Problem(
                "too_many_listen",
                "Too many pages listen to edits already.",
                "Close some of them; this one asks again by itself.",
                "events",
            )
            raise Refused(503, "Too many listen", [problem])
        response = HttpResponse(content_type="text/event-stream", headers={"Cache-Control": "no-store"})
        return following(response, lambda: BOARD.listen(key_of(found), known, found.edit_number))


class Records(APIView):
    """Some records."""

    @extend_schema(operation_id="some_rows", parameters=[OpenApiParameter("ids", str, required=True)], responses=ROWS)
    def get(self, request: Request, project: int) -> Response:
        """The records of some ids, joined by commas; what is not there is left out."""
        found = listing.found_project(project)
        ids = [i for t in request.query_params.get("ids", "").split(",") if (i := listing.whole_number(t)) is not None]
        return Response(rows_of(found, list(bulk.read(found, ids[:1_000]).values())))


class Undo(APIView):
    """Taking back."""

    @extend_schema(operation_id="undo", request=asks(shapes.TabAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int) -> Response:
        """Take back the last edit of a tab."""
        return Response(shapes.dumped(undoing.undo(project, shapes.read_body(request.data, shapes.TabAsked))))


class Redo(APIView):
    """Doing again."""

    @extend_schema(operation_id="redo", request=asks(shapes.TabAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int) -> Response:
        """Do again what was taken back last."""
        return Response(shapes.dumped(undoing.redo(project, shapes.read_body(request.data, shapes.TabAsked))))


class UndoOne(APIView):
    """Taking back one edit of the history."""

    @extend_schema(operation_id="undo_one", request=asks(shapes.TabAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int, number: int) -> Response:
        """Take back one edit, whoever made it."""
        asked = shapes.read_body(request.data, shapes.TabAsked)
        return Response(shapes.dumped(undoing.undo_one(project, number, asked)))


class Duplicate(APIView):
    """Duplicating objects."""

    @extend_schema(operation_id="duplicate", request=asks(shapes.DuplicateAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int) -> Response:
        """Copies with a memory of their own, and what they carried over."""
        asked = shapes.read_body(request.data, shapes.DuplicateAsked)
        return Response(shapes.dumped(duplicating.duplicate(project, asked)))


class SoundMade(APIView):
    """A sound made on the spot."""

    @extend_schema(operation_id="make_sound", request=asks(shapes.PlaceholderAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int, record: int) -> Response:
        """Make a placeholder for a sound; it is a file like any other, and replaced like any other."""
        asked = shapes.read_body(request.data, shapes.PlaceholderAsked)
        return Response(shapes.dumped(sounding.make(project, record, asked)))


class RecordFile(APIView):
    """The file of a sound, or the picture of an item."""

    @extend_schema(
        operation_id="record_file",
        parameters=[IF_MATCH, TAB, ASK, OpenApiParameter("seconds", float)],
        request=OpenApiTypes.BINARY,
        responses=answers(shapes.EditDone),
    )
    def post(self, request: Request, project: int, record: int) -> Response:
        """Give a sound its file or an item its picture, sent as the body."""
        what = sounding.wanted_of(sounding.holder_of(listing.found_project(project), record))
        size = listing.whole_number(request.headers.get("Content-Length") or "0", 2**60)
        if size is None or size > sounding.MOST_BYTES:
            raise sounding.too_large(size or 2**60, what)
        version = listing.if_match(request.headers.get("If-Match"))
        tab, ask = (request.query_params.get(n, usual)[:60] for n, usual in (("tab", "api"), ("ask", "")))
        seconds = listing.number_in(request.query_params.get("seconds"), 0.0, 86_400.0)
        return Response(
            shapes.dumped(sounding.add_file(project, record, version, request._request.body, tab, ask, seconds))
        )


class LevelOne(APIView):
    """A level as its plan says it."""

    @extend_schema(operation_id="level", responses=answers(shapes.LevelReading))
    def get(self, request: Request, project: int, level: str) -> Response:
        """Where reaches overlap for one control and who wins, and in which area each object stands."""
        here = compiled_project(listing.found_project(project))
        return Response(shapes.dumped(readings.level_reading(here, level)))


class Measure(APIView):
    """Measuring on the plan."""

    @extend_schema(
        operation_id="measure",
        responses=answers(shapes.MeasureShape),
        parameters=[OpenApiParameter(name, float, required=True) for name in ("x1", "y1", "x2", "y2")],
    )
    def get(self, request: Request, project: int, level: str) -> Response:
        """The distance between two places of a level."""
        core = compiled_project(listing.found_project(project)).core
        found = next((lv for lv in core.levels if lv.key == level), None)
        if found is None:
            raise not_found("level", level)
        x1, y1, x2, y2 = (
            listing.number_in(request.query_params.get(n), -1e4, 1e4) or 0.0 for n in ("x1", "y1", "x2", "y2")
        )
        one = measured(core, found, (x1, y1), (x2, y2))
        seconds = None if one.on_foot_m is None else one.on_foot_m / core.player.speed_mps
        return Response(
            shapes.dumped(shapes.MeasureShape(one.straight_m, one.on_foot_m, seconds, [list(p) for p in one.way]))
        )


class Place(APIView):
    """Placing objects."""

    @extend_schema(operation_id="place", request=asks(shapes.PlaceAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int) -> Response:
        """Place an object that works at once."""
        return Response(shapes.dumped(placing.place(project, shapes.read_body(request.data, shapes.PlaceAsked))))


class Offers(APIView):
    """Letting somebody offer a quest."""

    @extend_schema(operation_id="offer", request=asks(shapes.OfferAsked), responses=answers(shapes.EditDone))
    def post(self, request: Request, project: int) -> Response:
        """Set up all it takes to offer a quest and to hand it in."""
        return Response(shapes.dumped(offering.offer(project, shapes.read_body(request.data, shapes.OfferAsked))))


class RecordOne(APIView):
    """One record by itself, for callers that write one at a time."""

    @extend_schema(operation_id="record", responses={200: {"$ref": "#/components/schemas/Row"}})
    def get(self, request: Request, project: int, record: int) -> Response:
        """One record; its version is the ETag."""
        in_project, found = _found(project, record)
        response = Response(rows_of(in_project, [found])[0])
        response["ETag"] = f'"{found.version}"'
        return response

    @extend_schema(
        operation_id="set_record",
        parameters=[IF_MATCH, TAB],
        request=OpenApiTypes.OBJECT,
        responses=answers(shapes.EditDone),
    )
    def patch(self, request: Request, project: int, record: int) -> Response:
        """Set values of a record, based on a version."""
        version = listing.if_match(request.headers.get("If-Match"))
        if not isinstance(request.data, dict):
            raise Refused(
                422,
                "Not an object",
                [Problem("value_unreadable", "The body must be an object of values.", "Send {field: value}.", "body")],
            )
        change = shapes.ChangeAsked("set", id=record, version=version, values=dict(request.data))
        return Response(shapes.dumped(edits.apply_edit(project, shapes.EditAsked(self._tab(request), [change]))))

    @extend_schema(
        operation_id="delete_record",
        parameters=[IF_MATCH, TAB, OpenApiParameter("clean", bool)],
        responses=answers(shapes.EditDone),
    )
    def delete(self, request: Request, project: int, record: int) -> Response:
        """Delete a record with all it owns; refused while it is used, unless `clean` is given."""
        version = listing.if_match(request.headers.get("If-Match"))
        change = shapes.ChangeAsked(
            "remove", id=record, version=version, clean=request.query_params.get("clean") == "1"
        )
        return Response(shapes.dumped(edits.apply_edit(project, shapes.EditAsked(self._tab(request), [change]))))

    @staticmethod
    def _tab(request: Request) -> str:
        return request.query_params.get("tab", "api")[:60]


def _found(project: int, record: int) -> tuple[models.Project, models.Record]:
    """A project and one of its records. Raises `Refused` 404 for either."""
    found = listing.found_project(project)
    one = store.get_record(found, record)
    if one is None:
        raise not_found("thing", f"record/{record}")
    return found, one


class Page(APIView):
    """The reading of one record's page."""

    @extend_schema(operation_id="page", responses=answers(shapes.PageReading))
    def get(self, request: Request, project: int, record: int) -> Response:
        """Texts as prose, uses, what was carried over."""
        found, one = _found(project, record)
        return Response(shapes.dumped(readings.page_reading(found, compiled_project(found), one)))


class Running(APIView):
    """What the program tells of one record."""

    @extend_schema(operation_id="running", responses=answers(shapes.RunReading))
    def get(self, request: Request, project: int, record: int) -> Response:
        """The stages it touches, and what of it cannot run."""
        found, one = _found(project, record)
        return Response(shapes.dumped(readings.run_reading(compiled_project(found), one)))


class Uses(APIView):
    """Where a record is used."""

    @extend_schema(operation_id="uses", responses=answers(shapes.UseShape, many=True))
    def get(self, request: Request, project: int, record: int) -> Response:
        """Every place that names it, in order."""
        found, one = _found(project, record)
        return Response([shapes.dumped(u) for u in using.uses_of(found, [one.key], {one.pk})])


class StagePage(APIView):
    """The reading of one stage's page."""

    @extend_schema(operation_id="stage", responses=answers(shapes.StageReading))
    def get(self, request: Request, project: int, quest: str, stage: str) -> Response:
        """Brings it here, becomes possible, stops being possible."""
        here = compiled_project(listing.found_project(project))
        return Response(shapes.dumped(readings.stage_reading(here, quest, stage)))


class Threads(APIView):
    """Every quest as it is drawn."""

    @extend_schema(operation_id="threads", responses=answers(shapes.ThreadReading, many=True))
    def get(self, request: Request, project: int) -> Response:
        """How each quest can go on, and what it is rewarded with."""
        here = compiled_project(listing.found_project(project))
        return Response([shapes.dumped(one) for one in readings.thread_readings(here)])


class QuestPage(APIView):
    """The reading of one quest's page."""

    @extend_schema(operation_id="quest", responses=answers(shapes.QuestReading))
    def get(self, request: Request, project: int, quest: str) -> Response:
        """The offer card, and for each status: brings it there, becomes possible, stops being possible."""
        here = compiled_project(listing.found_project(project))
        return Response(shapes.dumped(readings.quest_reading(here, quest)))


class Live(APIView):
    """The project as it would be at a point."""

    @extend_schema(
        operation_id="live",
        responses=answers(shapes.LiveReading),
        parameters=AT_POINT,
    )
    def get(self, request: Request, project: int) -> Response:
        """At `quest` and `stage`, with `changes` as `column=value` pairs joined by commas."""
        found, asked = listing.found_project(project), request.query_params
        here, quest, stage = compiled_project(found), asked.get("quest", ""), asked.get("stage", "")
        way, changes = PROVING.way_to(found, quest, stage), read_changes(asked.get("changes", ""))
        return Response(shapes.dumped(readings.live_reading(here, quest, stage, changes, way)))


class Cards(APIView):
    """The start cards."""

    @extend_schema(operation_id="cards", responses=answers(shapes.CardReading, many=True))
    def get(self, request: Request, project: int) -> Response:
        """What each holds in words, and what of it does not fit the project any more."""
        found = listing.found_project(project)
        return Response([shapes.dumped(one) for one in starting.card_readings(compiled_project(found), found)])


class PointCard(APIView):
    """A start card for a point."""

    @extend_schema(
        operation_id="point_card",
        responses={200: {"$ref": "#/components/schemas/CardValues"}},
        parameters=[OpenApiParameter(name, str) for name in ("quest", "stage", "changes", "at")],
    )
    def get(self, request: Request, project: int) -> Response:
        """The values of a card that begins as if at `quest` and `stage` with `changes`, before the object `at`."""
        found, asked = listing.found_project(project), request.query_params
        quest, stage, at = (asked.get(name, "") for name in ("quest", "stage", "at"))
        way, changes = PROVING.way_to(found, quest, stage), read_changes(asked.get("changes", ""))
        puts = None if way is None else way.puts
        return Response(starting.card_at(compiled_project(found), quest, stage, changes, at, puts))


class Complete(APIView):
    """Completion of typed text."""

    @extend_schema(operation_id="complete", request=asks(shapes.TextAsked), responses=answers(shapes.CompletionShape))
    def post(self, request: Request, project: int) -> Response:
        """What could stand at the cursor."""
        here = compiled_project(listing.found_project(project))
        return Response(shapes.dumped(choices.completion(here, shapes.read_body(request.data, shapes.TextAsked))))


class Options(APIView):
    """Alternatives for a word of a text."""

    @extend_schema(
        operation_id="options", request=asks(shapes.TextAsked), responses=answers(shapes.ChoiceShape, many=True)
    )
    def post(self, request: Request, project: int) -> Response:
        """What else the word at a place could be."""
        here = compiled_project(listing.found_project(project))
        return Response(
            [shapes.dumped(o) for o in choices.options_at(here, shapes.read_body(request.data, shapes.TextAsked))]
        )


class ValueOptions(APIView):
    """What a value of an object or a kind can be."""

    @extend_schema(
        operation_id="value_options", request=asks(shapes.ValueAsked), responses=answers(shapes.ValueOptions)
    )
    def post(self, request: Request, project: int) -> Response:
        """What fits wherever the cues read it, what can be made for it there, and whether it can be a number or words."""
        here = compiled_project(listing.found_project(project))
        return Response(shapes.dumped(choices.value_options(here, shapes.read_body(request.data, shapes.ValueAsked))))


class Rearrange(APIView):
    """Needs and steps moved, copied and taken out of a text."""

    @extend_schema(
        operation_id="rearrange", request=asks(shapes.RearrangeAsked), responses=answers(shapes.RearrangedShape)
    )
    def post(self, request: Request) -> Response:
        """The text with a piece taken out, put in, or both; nothing is stored."""
        asked = shapes.read_body(request.data, shapes.RearrangeAsked)
        done = rearranged(asked.text, asked.start, asked.take, asked.put, asked.to)
        return Response(shapes.dumped(shapes.RearrangedShape(done.text, done.taken)))


class SupplyList(APIView):
    """How often things are given and asked for."""

    @extend_schema(operation_id="supply", responses=answers(shapes.SupplyShape, many=True))
    def get(self, request: Request, project: int) -> Response:
        """Every thing that is given, asked for or named anywhere."""
        found = listing.found_project(project)
        supply = supply_of(compiled_project(found).core)
        used = using.used_names(found)
        none = Supply(0, 0)
        lines = [(k, supply.get(k, none), k in used) for k in sorted(supply.keys() | used)]
        return Response([shapes.dumped(shapes.SupplyShape(k, s.given, s.asked, u)) for k, s, u in lines])


class TrackedList(APIView):
    """What is counted of what the player does."""

    @extend_schema(operation_id="tracked", responses=answers(shapes.TrackedShape, many=True))
    def get(self, request: Request, project: int) -> Response:
        """Every count that something asks for: used, heard, visited, gained."""
        found = listing.found_project(project)
        return Response([shapes.dumped(one) for one in flows.tracked(found, compiled_project(found))])


class BalanceList(APIView):
    """How much of each item can be had against how much is asked for."""

    @extend_schema(operation_id="balance", responses=answers(shapes.BalanceShape, many=True))
    def get(self, request: Request, project: int) -> Response:
        """Every item, and the money as `money`; bounds from the compiled program."""
        here = compiled_project(listing.found_project(project))
        return Response(
            [
                shapes.dumped(
                    shapes.BalanceShape(b.key, b.most, b.limit, b.asked, b.kept, b.beside, b.all_wanted, b.too_few)
                )
                for b in here.balances
            ]
        )


class Starters(APIView):
    """What can be placed from nothing."""

    @extend_schema(operation_id="starters", responses=answers(shapes.StarterShape, many=True))
    def get(self, request: Request) -> Response:
        """Every starter."""
        found = [shapes.StarterShape(s.kind.key, s.kind.name, s.kind.design.icon, s.sentence, s.also) for s in STARTERS]
        return Response([shapes.dumped(s) for s in found])


class Words(APIView):
    """What the help explains."""

    @extend_schema(operation_id="words", responses=answers(shapes.WordShape, many=True))
    def get(self, request: Request) -> Response:
        """Every moment, need, step, status and word, each in a sentence."""
        return Response([shapes.dumped(shapes.WordShape(w.sort, w.text, w.means, w.example)) for w in explained()])


class FileSchema(APIView):
    """The project file's JSON Schema."""

    @extend_schema(operation_id="file_schema", responses={200: OpenApiTypes.OBJECT})
    def get(self, request: Request) -> Response:
        """The published schema."""
        return Response(json_schema())


def front_page(request: HttpRequest, **_: Any) -> HttpResponse:
    """The application itself, at every address that is not the API's."""
    place = settings.FRONT_PAGE
    if not place.is_file():
        return HttpResponse("The front end is not built. Run: make build\n", status=503, content_type="text/plain")
    return HttpResponse(place.read_bytes(), content_type="text/html; charset=utf-8")
