"""The door: what comes over the network gets nothing without a pairing, and of a bench device no more than its list."""

import json
from datetime import timedelta
from typing import Any

from flask.testing import FlaskClient

from roundstone.share import Door, Sharing, folder_beside
from roundstone.share.door import ALL_PER_MINUTE, CODE_LASTS, COOKIE_LASTS, PER_MINUTE, TRIES
from roundstone.web import create_app
from roundstone.web.door import FROM_NETWORK
from tests.web.client import ApiTest

HOST = "https://192.168.7.7:8766"
# What a device that pours and looks after rest may do, said once more by hand.
OF_THE_BENCH = {
    "GET /api/me", "GET /api/root.crt", "POST /api/pair", "GET /api/settings/units", "GET /api/words",
    "GET /api/instruments",
    "GET /api/instruments/<kind>", "GET /api/recipes", "GET /api/recipes/names",
    "GET /api/recipes/<recipe_id>/worksheet", "GET /api/recipes/<recipe_id>/bench-sheet.pdf",
    "GET /api/recipes/<recipe_id>/ready", "POST /api/recipes/<recipe_id>/ready", "GET /api/pours", "POST /api/pours",
    "GET /api/pours/<pour_id>", "DELETE /api/pours/<pour_id>", "POST /api/pours/<pour_id>/events",
    "POST /api/pours/<pour_id>/photos",
    "GET /api/pours/<pour_id>/rest", "GET /api/pours/<pour_id>/rest.ics",
    "GET /api/pours/<pour_id>/sections", "GET /api/rest", "GET /api/rest.ics", "GET /api/photos/<photo_id>",
    "GET /api/photos/<photo_id>/colour", "GET /api/faces/<code>/<int:width>.png", "POST /api/practice",
    "GET /api/practice",
    "GET /api/practice/<practice_id>", "GET /api/practice/<practice_id>/debrief",
    "POST /api/practice/<practice_id>/events", "GET /api/practice/<practice_id>/sights",
    "PUT /api/practice/<practice_id>/speed",
}  # fmt: skip

SAMPLE = {"GET /api/settings", "POST /api/recipes", "PUT /api/settings/scales", "GET /api/devices", "GET /api/find"}


class AtTheDoor(ApiTest):
    def setUp(self) -> None:
        super().setUp()
        sharing = Sharing(HOST, ("192.168.7.7", "bench.local"), "AB:CD", None)
        self.app = create_app(self.workshop, lambda: self.now, sharing=sharing)
        self.client = self.app.test_client()
        self.door: Door = self.app.extensions["door"]

    def phone(self, address: str = "192.168.7.20") -> FlaskClient:
        client = self.app.test_client()
        client.environ_base |= {FROM_NETWORK: "yes", "REMOTE_ADDR": address}
        return client

    def ask(self, phone: FlaskClient, line: str, body: Any = None, **more: Any) -> Any:
        method, path = line.split()
        return phone.open(path, method=method, base_url=HOST, json=body, buffered=True, **more)

    def pair(self, phone: FlaskClient, code: str, name: str = "Sink") -> Any:
        return self.ask(phone, "POST /api/pair", {"code": code, "name": name})

    def let_in(self, role: str) -> FlaskClient:
        code = self.send("POST", "/devices/invitation", {"role": role})["invitation"]["code"]
        phone = self.phone()
        answer = self.pair(phone, code)
        self.assertEqual((answer.status_code, answer.json["role"]), (200, role))
        return phone

    def lines(self) -> list[str]:
        rules = (r for r in self.app.url_map.iter_rules() if r.rule.startswith("/api/"))
        return [f"{method} {r.rule}" for r in rules for method in (r.methods or set()) - {"HEAD", "OPTIONS"}]

    def test_every_address_is_shut_but_to_who_may(self) -> None:
        stranger, bench, maker = self.phone(), self.let_in("bench"), self.let_in("maker")
        lines = self.lines()
        self.assertGreater(len(lines), 90)
        self.assertLessEqual(OF_THE_BENCH, set(lines))
        for line in lines:
            plain = line.replace("<int:width>", "9").replace("<", "").replace(">", "")
            open_to_all = line in ("GET /api/me", "POST /api/pair", "GET /api/root.crt")
            self.assertEqual(self.ask(stranger, plain).status_code == 401, not open_to_all, line)
            self.assertEqual(self.ask(bench, plain).status_code == 403, line not in OF_THE_BENCH, line)
            if line in SAMPLE:
                self.assertNotIn(self.ask(maker, plain).status_code, (401, 403), line)
        refused = self.ask(maker, "PUT /api/devices/sharing", {"on": False})
        self.assertEqual(refused.status_code, 403, "the way in is opened and closed on the workshop's own screen")
        self.assertEqual(self.ask(maker, "GET /api/recipes").status_code, 200, "and stands open as it was")
        for line in ("HEAD /api/workshop.zip", "OPTIONS /api/workshop.zip", "PATCH /api/recipes"):
            self.assertIn(self.ask(stranger, line).status_code, (401, 405), line)
        self.assertIn(self.ask(stranger, "GET /").status_code, (200, 503), "the page itself holds nothing")

    def test_a_code_lets_one_in_once_and_not_for_long(self) -> None:
        code = self.send("POST", "/devices/invitation", {"role": "bench"})["invitation"]["code"]
        self.assertEqual(self.pair(self.phone(), f" {code[:3]} {code[3:]} ").status_code, 200)
        self.assertEqual(self.pair(self.phone(), code).json["errors"][0]["pointer"], "/code")
        old = self.send("POST", "/devices/invitation", {"role": "bench"})["invitation"]["code"]
        self.now += CODE_LASTS
        self.assertEqual(self.pair(self.phone(), old).status_code, 422)
        self.assertIsNone(self.send("GET", "/devices")["invitation"])
        self.assertEqual(self.pair(self.phone(), "", " ").json["errors"][0]["pointer"], "/name")
        self.send("GET", "/devices/invitation.svg", status=404)
        self.send("POST", "/pair", {"code": code, "name": "me"}, 404)

    def test_who_does_not_share_invites_nobody(self) -> None:
        self.client = create_app(self.workshop, lambda: self.now).test_client()
        self.send("POST", "/devices/invitation", {"role": "bench"}, 404)
        told = self.send("GET", "/devices")
        self.assertEqual((told["sharing"], told["invitation"], told["devices"]), (None, None, []))

    def test_guessing_is_stopped(self) -> None:
        code = self.send("POST", "/devices/invitation", {"role": "maker"})["invitation"]["code"]
        wrong = f"{(int(code) + 1) % 10**6:06}"
        said = [self.pair(self.phone(), wrong).status_code for _ in range(PER_MINUTE + 1)]
        self.assertEqual(said, [422] * PER_MINUTE + [429])
        self.assertLessEqual(TRIES, PER_MINUTE)
        self.now += timedelta(minutes=1, seconds=1)
        self.assertEqual(self.pair(self.phone(), code).status_code, 422, "the code went with the guesses")
        many = [self.pair(self.phone(f"192.168.7.{n}"), wrong).status_code for n in range(ALL_PER_MINUTE)]
        self.assertEqual(many[-1], 429, "nor with an address for each guess")
        self.assertEqual(self.send("GET", "/devices")["devices"], [])

    def test_what_it_holds_opens_nothing_once_it_is_sent_away(self) -> None:
        phone = self.let_in("maker")
        device = self.send("GET", "/devices")["devices"][0]
        self.assertEqual((device["name"], self.ask(phone, "GET /api/devices").json["me"]), ("Sink", device["id"]))
        self.now += COOKIE_LASTS / 2
        self.assertEqual(self.ask(phone, "GET /api/recipes").status_code, 200)
        again = create_app(self.workshop, lambda: self.now, sharing=Sharing(HOST, ("192.168.7.7",), "", None))
        self.assertEqual(len(again.extensions["door"].devices()), 1, "a server that starts anew knows it")
        self.send("DELETE", f"/devices/{device['id']}")
        self.assertEqual(self.ask(phone, "GET /api/recipes").status_code, 401)
        self.assertIsNone(self.ask(phone, "GET /api/me").json["role"])
        self.send("DELETE", f"/devices/{device['id']}", status=422)

    def test_a_cookie_cannot_be_made_up(self) -> None:
        phone = self.let_in("maker")
        cookie = phone.get_cookie("__Host-round-stone", domain="192.168.7.7")
        assert cookie is not None
        self.assertTrue(cookie.secure and cookie.http_only and cookie.same_site == "Strict" and cookie.path == "/")
        value = cookie.value
        other = Door(self.path.parent / "elsewhere", lambda: self.now)
        _, foreign = other.pair(other.invite("maker").code, "Mine", "here")
        for made_up in ("", "x", value[:-1], value.swapcase(), foreign, value + "a", "a.b.c"):
            self.assertIsNone(self.door.known(made_up), made_up)
        self.assertIsNotNone(self.door.known(value))
        kept = (folder_beside(self.path) / "devices.json").read_text()
        self.assertNotIn(json.dumps(value), kept)
        self.assertEqual((folder_beside(self.path) / "secret").stat().st_mode & 0o077, 0)
        self.assertEqual(folder_beside(self.path).stat().st_mode & 0o077, 0)

    def test_only_its_own_names_and_pages(self) -> None:
        phone = self.let_in("maker")
        for host in ("https://evil.example", "https://192.168.7.8:8766"):
            self.assertEqual(phone.get("/api/me", base_url=host).status_code, 421)
        self.assertEqual(phone.get("/api/me", base_url="https://bench.local:8766").status_code, 200)
        body = {"copy_of": None, "name": "x"}
        foreign = self.ask(phone, "POST /api/recipes", body, headers={"Origin": "https://evil.example"})
        self.assertEqual(foreign.status_code, 403)
        self.assertEqual(self.ask(phone, "POST /api/recipes", body, headers={"Origin": HOST}).status_code, 201)

    def test_a_token_reads_the_tables_and_nothing_else(self) -> None:
        self.send("POST", "/devices/token", {"name": " "}, 422)
        token = self.send("POST", "/devices/token", {"name": "accounts"}, 201)["token"]
        program = self.phone("192.168.7.30")
        head = {"Authorization": f"Bearer {token}"}
        for rule in self.app.url_map.iter_rules():
            path = str(rule)
            if not path.startswith("/api/") or "<" in path.replace("/api/data/<name>", "/api/data/shelf"):
                continue
            path = path.replace("<name>", "shelf")
            for method in (rule.methods or set()) & {"GET", "POST", "PUT", "DELETE"}:
                status = self.ask(program, f"{method} {path}", headers=head).status_code
                read = method == "GET" and path in ("/api/data", "/api/data/shelf")
                self.assertEqual(status, 200 if read else 403, f"{method} {path}")
        self.assertEqual(self.ask(program, "GET /api/data").status_code, 401, "only with its token")
        self.assertEqual(self.ask(self.let_in("bench"), "GET /api/data").status_code, 403)
        (device,) = (d for d in self.send("GET", "/devices")["devices"] if d["role"] == "reader")
        self.send("DELETE", f"/devices/{device['id']}")
        self.assertEqual(self.ask(program, "GET /api/data", headers=head).status_code, 401)
