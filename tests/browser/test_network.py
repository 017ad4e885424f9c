"""The workshop on its network: a phone at another address of this machine, and the page where nothing answers."""

import re
import socket
import ssl
import subprocess
import sys
import tempfile
from contextlib import closing
from http.client import HTTPSConnection
from pathlib import Path

from playwright.sync_api import Page, expect

from roundstone.share import folder_beside
from tests.browser.real import OWN_ADDRESS, ROOT, RealBrowser, Server, combine


def free_port() -> int:
    with closing(socket.socket()) as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


class Shared(RealBrowser):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data, self.share_port = Path(folder.name) / "w.sqlite", free_port()
        self.server.stop()
        more = ("--share-port", str(self.share_port), "--address", OWN_ADDRESS)
        self.server = Server("serve", self.data, more=more, forked=True)
        self.network = f"https://{OWN_ADDRESS}:{self.share_port}"
        self.open("/workshop")
        self.page.get_by_role("button", name="Let phones and tablets join").click()
        expect(self.page.get_by_role("button", name="Close it to the network")).to_be_visible(timeout=15_000)

    def phone(self) -> Page:
        context = self._browser.new_context(
            viewport={"width": 390, "height": 844}, ignore_https_errors=True, service_workers="block"
        )
        self.addCleanup(context.close)
        page = context.new_page()
        page.set_default_timeout(20_000)
        page.on("pageerror", lambda error: self.troubles.append(str(error)))
        return page

    def cli(self, *words: str) -> None:
        line = [sys.executable, "-m", "roundstone", *words]
        done = subprocess.run(line, cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_the_certificate_is_its_own_and_the_door_is_shut(self) -> None:
        """RFC 5280 by OpenSSL: the chain holds for this address by the root, for no other name, by no other root."""
        root = folder_beside(self.data) / "root.pem"
        trusting = ssl.create_default_context(cafile=str(root))

        def asked(context: ssl.SSLContext, path: str, name: str = OWN_ADDRESS) -> int:
            wire = socket.create_connection((OWN_ADDRESS, self.share_port), timeout=10)
            connection = HTTPSConnection(OWN_ADDRESS, self.share_port, timeout=10)
            connection.sock = context.wrap_socket(wire, server_hostname=name)
            with closing(connection):
                connection.request("GET", path)
                return connection.getresponse().status

        self.assertEqual([asked(trusting, p) for p in ("/api/me", "/", "/api/recipes")], [200, 200, 401])
        self.assertEqual(asked(trusting, "/api/workshop.sqlite"), 401)
        with self.assertRaises(ssl.SSLCertVerificationError):
            asked(trusting, "/api/me", "another.example")
        with self.assertRaises(ssl.SSLCertVerificationError):
            asked(ssl.create_default_context(), "/api/me")
        old = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
        old.check_hostname, old.verify_mode = False, ssl.CERT_NONE
        old.maximum_version = ssl.TLSVersion.TLSv1_1
        with self.assertRaises(OSError):
            asked(old, "/api/me")
        said = f"POST /api/pair HTTP/1.1\r\nHost: {OWN_ADDRESS}:{self.share_port}\r\nContent-Length: 99\r\n\r\n{{"
        for n in range(12):  # more than there are threads
            wire = socket.create_connection((OWN_ADDRESS, self.share_port), timeout=10)
            self.addCleanup(wire.close)
            if n % 2:
                wire = trusting.wrap_socket(wire, server_hostname=OWN_ADDRESS)
                self.addCleanup(wire.close)
            wire.sendall(said.encode() if n % 2 else b"\x16")
        self.assertEqual(asked(trusting, "/api/me"), 200, "half a word keeps nobody waiting")
        if OWN_ADDRESS != "127.0.0.2":
            with self.assertRaises(OSError), closing(socket.create_connection((OWN_ADDRESS, self.server.port), 5)):
                pass  # the maker's own port is not on the network

    def settings_in_ounces(self) -> None:
        """What is no weight is read as it stands, and what nobody changed is kept to the last digit."""
        page, api = self.page, self.page.request
        before = api.get(f"{self.server.url}/api/settings").json()
        self.open("/workshop")
        page.get_by_label("relative humidity, %").fill("55")
        page.get_by_role("button", name="Save humidity").click()
        page.get_by_label("copies kept").fill("9")
        page.get_by_role("region", name="Copies").get_by_role("button", name="Save copies", exact=True).click()
        page.get_by_role("button", name="Save scales").click()
        expect(page.get_by_text("Saved: weights are shown so.")).to_be_visible()
        after = api.get(f"{self.server.url}/api/settings").json()
        self.assertEqual((after["humidity"], after["copies"]["keep"]), (0.55, 9))
        self.assertEqual(after["scales"], before["scales"])
        self.open("/stock")
        page.get_by_role("button", name="New lot").click()
        self.pick("Ingredient", "Olive", re.compile("^Olive"))
        page.get_by_label("there now, oz").fill("2 lb")
        page.get_by_label(re.compile("price of a pound")).fill("4.5")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("£4.50")).to_be_visible()
        lot = api.get(f"{self.server.url}/api/stock").json()["lots"][0]["lot"]
        self.assertAlmostEqual(lot["grams"], 907.18474, places=3)
        self.assertAlmostEqual(lot["price_per_kg"], 4.5 / 0.45359237, places=6)

    def test_a_pour_from_the_phone_in_ounces_survives_the_loss_of_the_file(self) -> None:
        page, phone = self.page, self.phone()
        self.open("/")
        page.get_by_role("radio", name="oz", exact=True).check()
        page.get_by_role("radio", name="°F").check()
        expect(page.get_by_label("batter, poured at, °F")).to_be_visible()
        page.get_by_role("button", name=re.compile("Slow Olive")).click()
        expect(page.locator("[data-test=lye]")).to_contain_text("oz")
        expect(page.locator("[data-test=why]")).to_contain_text("Medium trace in")

        phone.goto(f"{self.network}/rest")
        expect(phone.get_by_role("heading", name="Let this device in")).to_be_visible()
        self.settings_in_ounces()
        self.open("/workshop")
        page.get_by_role("button", name="Let a device in for pours and rest").click()
        expect(page.locator("[data-test=invitation]")).to_contain_text("for pours and rest")
        code = page.locator("[data-test=code]").inner_text()
        self.accessible("Workshop with a code")
        phone.get_by_label("the code").fill(code)
        phone.get_by_label("what this device is called").fill("Phone by the sink")
        phone.get_by_role("button", name="Let me in").click()

        phone.get_by_role("link", name=re.compile("Slow Olive")).click()
        combine(phone)
        phone.get_by_role("button", name="Fats are melted").click()
        phone.get_by_label("Reading of the fat pot, °F").fill("95")
        phone.get_by_role("button", name="log", exact=True).first.click()
        expect(phone.get_by_placeholder("95")).to_have_value("")
        phone.get_by_role("button", name="Lye meets fats").click()
        phone.get_by_role("button", name=re.compile("emulsion", re.IGNORECASE)).first.click()
        expect(phone.locator("[data-test=outbox]")).to_have_count(0)
        pour = phone.url.rsplit("/", 1)[-1]
        phone.goto(f"{self.network}/workshop")
        expect(phone.get_by_role("heading", name="What is poured?")).to_be_visible()
        expect(page.get_by_role("list", name="Devices that are let in")).to_contain_text("Phone by the sink")

        # Sent away, it sees nothing more.
        page.get_by_role("button", name="send away").click()
        phone.goto(f"{self.network}/pours")
        expect(phone.get_by_role("heading", name="Let this device in")).to_be_visible()

        # The file is lost, and put back from its copy.
        copy = self.data.with_name("kept.sqlite")
        self.cli("backup", "--data", str(self.data), str(copy))
        self.server.stop()
        for file in self.data.parent.glob("w.sqlite*"):
            if file.is_file():
                file.unlink()
        self.cli("restore", "--data", str(self.data), str(copy))
        self.server.start()
        self.open(f"/pours/{pour}")
        seen = page.request.get(f"{self.server.url}/api/pours/{pour}").json()
        self.assertIn("seen", [e["event"]["kind"] for e in seen["events"]])
        self.assertEqual(page.request.get(f"{self.server.url}/api/settings/units").json()["warmth"], "F")
        self.assertEqual(page.request.get(f"{self.server.url}/api/devices").json()["devices"], [])


class Offline(RealBrowser):
    workers = "allow"

    def test_the_shell_opens_where_nothing_answers_and_no_figure_is_kept(self) -> None:
        page = self.page
        self.open("/practice")
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        kept = "caches.open('shell').then(s => s.keys()).then(k => k.map(r => new URL(r.url).pathname))"
        for _ in range(40):
            paths = page.evaluate(kept)
            if len(paths) > 20:
                break
            page.wait_for_timeout(250)
        self.assertIn("/", paths)
        self.assertEqual([p for p in paths if p != "/" and not p.startswith("/assets/")], [])
        self.server.stop()
        self.expected = re.compile("Failed to load|ERR_CONNECTION_REFUSED")
        page.goto(f"{self.server.url}/rest")
        expect(page.get_by_role("navigation", name="Places")).to_be_visible()
        expect(page.get_by_text("does not answer")).to_be_visible(timeout=20000)
        self.server.start()
        page.reload()
        expect(page.get_by_text("Nothing rests")).to_be_visible()
