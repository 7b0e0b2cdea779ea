"""Nothing let in: files by what they are, broken files with their reasons, every answer in one form."""

from __future__ import annotations

import io
import json
import random
import re
import struct
import wave
import zipfile
from unittest import mock

from django.test import Client

from tests.server.test_api import DEMO, OnTheDemo
from vocanta.core.project.assets import asset_name
from vocanta.server import models, views

SCRIPT = b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>"


def sound(rate=8000):
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(8000)
        file.writeframes(struct.pack("<h", 100) * 800)
    data = bytearray(out.getvalue())
    data[24:28] = struct.pack("<I", rate)
    return bytes(data)


def with_sound(name):
    """The demo with one sound named by a file, its other files left out."""
    document = json.loads(DEMO)
    for one in document["project"]["sounds"]:
        one["file"] = ""
    document["project"]["sounds"][0]["file"] = name
    return document


def zipped(document, **assets):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("project.json", json.dumps(document))
        for name, data in assets.items():
            archive.writestr(f"assets/{name.replace('__', '.')}", data)
    return out.getvalue()


class Files(OnTheDemo):
    def file_in(self, data, expect, count=1):
        before = models.Project.objects.count()
        answer = self.client.post("/api/projects/file", data, content_type="application/octet-stream")
        self.assertEqual(answer.status_code, expect, answer.content[:300])
        self.assertEqual(models.Project.objects.count() - before, count if expect == 201 else 0)
        if expect != 201:
            self.assertEqual(answer["Content-Type"], "application/problem+json")
            self.assertTrue(all(p["message"] and p["fix"] for p in answer.json()["problems"]))
        return answer.json()

    def test_what_is_no_sound_is_refused_whatever_it_is_called(self):
        for data, suffix in (
            (SCRIPT, ".svg"),
            (SCRIPT, ".wav"),
            (b"<script>", ".html"),
            (sound(0), ".wav"),
            (sound(), ".html"),
        ):
            with self.subTest(suffix=suffix, data=data[:9]):
                name = asset_name(data, suffix)
                answer = self.file_in(zipped(with_sound(name), **{name.replace(".", "__"): data}), 422)
                self.assertEqual(self.codes(answer), ["asset_wrong"])

    def test_what_no_record_names_is_left_out(self):
        name, page = asset_name(sound(), ".wav"), asset_name(SCRIPT, ".svg")
        assets = {name.replace(".", "__"): sound(), page.replace(".", "__"): SCRIPT}
        made = self.file_in(zipped(with_sound(name), **assets), 201)["id"]
        self.assertEqual(list(models.Asset.objects.filter(project_id=made).values_list("name", flat=True)), [name])
        served = self.client.get(f"/api/projects/{made}/assets/{name}")
        self.assertEqual((served["Content-Type"], served["Content-Disposition"]), ("audio/wav", "inline"))
        self.assertEqual(self.client.get(f"/api/projects/{made}/assets/{page}").status_code, 404)

    def test_a_file_is_served_as_what_it_is_and_runs_nothing(self):
        models.Asset.objects.create(project_id=self.demo_id, name="old.html", data=SCRIPT)
        served = self.client.get(f"{self.base}/assets/old.html")
        self.assertEqual(served["Content-Type"], "application/octet-stream")
        self.assertEqual((served["Content-Disposition"], served["X-Content-Type-Options"]), ("attachment", "nosniff"))
        self.assertEqual(served["Content-Security-Policy"], views.ASSET_POLICY)

    def test_broken_files_are_refused_with_their_reasons(self):
        package = self.client.get(self.base + "/package").content
        r = random.Random(4)
        for number in range(60):
            broken = bytearray(package)
            for _ in range(r.randint(1, 6)):
                broken[r.randrange(len(broken))] ^= 1 << r.randrange(8)
            if number % 3 == 0:
                del broken[r.randrange(len(broken)) :]
            answer = self.client.post("/api/projects/file", bytes(broken), content_type="application/zip")
            self.assertIn(answer.status_code, (201, 400, 422), (number, answer.content[:200]))
        encrypted = bytearray(package)
        for mark, offset in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
            for found in re.finditer(re.escape(mark), package):
                encrypted[found.start() + offset] |= 1
        self.file_in(bytes(encrypted), 422)

    def test_numbers_and_nesting_that_no_project_has_are_refused(self):
        own, wild = '"own": {}', '"own": {{"values.x": {}}}'
        text = DEMO.replace(own, wild.format("[" * 30 + "]" * 30), 1)
        self.file_in(text, 422)
        for value in ("NaN", "1e400", "-Infinity", "9" * 5_000):
            with self.subTest(value[:9]):
                self.assertEqual(
                    self.codes(self.file_in(DEMO.replace(own, wild.format(value), 1), 422)), ["file_broken"]
                )
        self.file_in('{"format": ' + "[" * 100_000, 422)
        self.file_in(b"\xff\xfe\x00", 422)

    def test_a_cue_that_cannot_be_read_comes_in_as_a_draft_and_is_listed(self):
        document = json.loads(DEMO)
        bell = next(k for k in document["project"]["kinds"] if k["key"] == "bell")
        bell["cues"][0]["text"] = f"when used\nthen\n  give {'9' * 4_400} copper_key"
        answer = self.file_in(json.dumps(document), 201)
        self.assertEqual(
            [p["path"] for p in answer["drafts"]],
            ["kind/bell/cue/" + bell["cues"][0]["key"] + "/text/line 3, column 8"],
        )
        cue = models.Cue.objects.get(project_id=answer["id"], draft=bell["cues"][0]["text"])
        self.assertEqual(cue.text, "")
        document["project"]["quests"][0]["needs"] = "(has"
        refused = self.file_in(json.dumps(document), 422)
        self.assertEqual(self.codes(refused), ["cue_unreadable"])

    def test_numbers_beyond_limits_and_deep_texts_are_answered_with_the_limit(self):
        bell = self.row("yard_bell")["id"]
        deep = "when used\nonly if " + "not " * 500 + "known_x\nthen\n  give copper_key"
        for text, code, limit in (
            ("when used then give " + "9" * 400 + " copper_key", "number_outside", "999999999"),
            (deep, "cue_too_deep", "named need"),
            ("when used only if " + "(" * 900, "cue_too_deep", "named need"),
        ):
            change = {"do": "add", "type": "cue", "owner": bell, "values": {"text": text}}
            answer = self.edit(change, expect=422)
            self.assertEqual(self.codes(answer), [code])
            self.assertIn(limit, answer["problems"][0]["fix"])
            for address in ("options", "complete"):
                asked = {"text": text, "at": 3, "start": "cue"}
                self.assertLess(self.send("post", f"/{address}", asked).status_code, 500, address)
            asked = {"text": text, "start": "cue", "take": "needs/0"}
            answer = self.client.post("/api/rearrange", json.dumps(asked), content_type="application/json")
            self.assertEqual((answer.status_code, self.codes(answer.json())), (422, [code]))


class Answers(OnTheDemo):
    def problem(self, answer, status):
        self.assertEqual((answer.status_code, answer["Content-Type"]), (status, "application/problem+json"))
        self.assertEqual(answer.json()["status"], status)
        return answer.json()

    def test_unknown_addresses_and_wrong_ways_of_asking_are_answered_in_one_form(self):
        for path in (
            "/api/nothing",
            "/api/",
            "/api/projects/abc",
            "/ws/x",
            f"/api/projects/{'9' * 30}",
            "/static/no.js",
        ):
            with self.subTest(path):
                self.problem(self.client.get(path), 404)
        self.problem(self.client.put(self.base), 405)
        for body in ("[" * 50_000, '{"tab": ' + "9" * 5_000 + "}", "NaN", b"\xff"):
            self.problem(self.client.post(self.base + "/edits", body, content_type="application/json"), 400)

    def test_every_operation_of_the_document_tells_its_refusals_in_the_one_form(self):
        document = self.client.get("/api/schema?format=json").json()
        operations = [(m, o) for path in document["paths"].values() for m, o in path.items()]
        self.assertGreater(len(operations), 30)
        for method, operation in operations:
            wanted = {"400", "404", "422", "500"} | (set() if method == "get" else {"409", "412", "428"})
            self.assertLessEqual(wanted, operation["responses"].keys(), operation["operationId"])
            forms = operation["responses"]["404"]["content"]
            self.assertEqual(list(forms), ["application/problem+json"])
        told = document["paths"]["/api/projects/{project}/events"]["get"]["responses"]["200"]["content"]
        self.assertEqual(told["text/event-stream"]["schema"], {"$ref": "#/components/schemas/EventShape"})

    def test_strange_headers_are_answered(self):
        bell = self.row("yard_bell")
        one = f"{self.base}/records/{bell['id']}"
        for match in ("²", "9" * 5_000, '"1" "2"', "-1", "W/"):
            answer = self.client.patch(one, "{}", content_type="application/json", headers={"If-Match": match})
            self.problem(answer, 400)
        for origin in ("http://[bad", "null", "http://testserver:1", "x" * 9_000):
            self.problem(self.client.get(self.base, headers={"Origin": origin}), 403)

    def test_what_a_page_of_another_site_asks_for_is_refused_and_a_link_from_there_opens(self):
        for site in ("cross-site", "same-site"):
            self.problem(self.client.get(self.base, headers={"Sec-Fetch-Site": site}), 403)
            opened = {"Sec-Fetch-Site": site, "Sec-Fetch-Mode": "navigate"}
            self.problem(self.client.get(f"{self.base}/proof", headers=opened), 403)
            self.assertNotEqual(self.client.get("/p/1/proof", headers=opened).status_code, 403)
        for site in ("same-origin", "none"):
            self.assertEqual(self.client.get(self.base, headers={"Sec-Fetch-Site": site}).status_code, 200)

    def test_nothing_is_begun_by_reading(self):
        for what in ("proof", "walks"):
            self.assertFalse(self.client.get(f"{self.base}/{what}").json()["going"], what)
        self.assertEqual(self.client.get(f"{self.base}/proof/map").status_code, 405)

    def test_a_fault_of_ours_has_a_number_that_the_log_shows_with_its_place(self):
        client = Client(raise_request_exception=False)
        broken = mock.patch.object(views.listing, "all_projects", side_effect=ZeroDivisionError("by nothing"))
        with broken, self.assertLogs("vocanta.server", "ERROR") as logged:
            answer = self.problem(client.get("/api/projects"), 500)
        self.assertIn(answer["number"], answer["detail"])
        self.assertIn(f"fault {answer['number']} at GET /api/projects", logged.output[0])
        self.assertIn("ZeroDivisionError: by nothing", logged.output[0])

    def test_every_file_of_the_page_carries_the_policy_and_is_for_no_other_page(self):
        page = self.client.get("/")
        script = re.search(r'src="(/static/[^"]+\.js)"', page.content.decode()).group(1)
        for answer in (page, self.client.get(script), self.client.get("/api/starters")):
            self.assertEqual(answer.status_code, 200)
            self.assertIn("script-src 'self'", answer["Content-Security-Policy"])
            self.assertEqual(answer["X-Content-Type-Options"], "nosniff")
            self.assertNotIn("Access-Control-Allow-Origin", answer)
