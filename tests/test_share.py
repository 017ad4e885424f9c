"""The workshop's own certificate, by the verifier of the `cryptography` library and by RFC 5280's name constraints."""

import ipaddress
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.x509.verification import PolicyBuilder, Store, VerificationError

from roundstone.share import Certificate, certified, own_addresses
from roundstone.share.certificate import LASTS, RENEWED

NOW = datetime(2031, 3, 1, 12, tzinfo=UTC)
NAMES = ("192.168.7.7", "bench.local")


class OwnCertificate(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "w.sqlite.share"

    def made(self, *names: str, at: datetime = NOW) -> Certificate:
        return certified(self.folder, names or NAMES, at)

    def holds(self, made: Certificate, name: str, at: datetime = NOW) -> bool:
        leaf, *_ = x509.load_pem_x509_certificates(made.chain.read_bytes())
        store = Store([x509.load_pem_x509_certificate(made.root.read_bytes())])
        try:
            subject: x509.IPAddress | x509.DNSName = x509.IPAddress(ipaddress.ip_address(name))
        except ValueError:
            subject = x509.DNSName(name)
        try:
            PolicyBuilder().store(store).time(at).build_server_verifier(subject).verify(leaf, [])
        except VerificationError:
            return False
        return True

    def test_it_holds_for_this_machine_alone_and_for_a_year(self) -> None:
        made = self.made()
        self.assertTrue(all(self.holds(made, n) for n in NAMES))
        self.assertFalse(any(self.holds(made, n) for n in ("192.168.7.8", "other.local", "shop.example")))
        self.assertFalse(self.holds(made, NAMES[0], NOW + LASTS + timedelta(days=1)))
        self.assertRegex(made.fingerprint, r"^([0-9A-F]{2}:){31}[0-9A-F]{2}$")
        leaf, *_ = x509.load_pem_x509_certificates(made.chain.read_bytes())
        span = leaf.not_valid_after_utc - leaf.not_valid_before_utc
        self.assertLessEqual(span, timedelta(days=398), "the longest browsers take")
        self.assertEqual({p.stat().st_mode & 0o777 for p in self.folder.iterdir()}, {0o600})

    def test_a_root_that_is_put_on_a_phone_vouches_for_nobody_out_there(self) -> None:
        public = self.made("203.0.113.9", "shop.example")
        self.assertFalse(self.holds(public, "shop.example"))
        self.assertFalse(self.holds(public, "203.0.113.9"))

    def test_it_stays_until_it_must_change(self) -> None:
        first = self.made().fingerprint
        self.assertEqual(self.made("bench.local").fingerprint, first, "an address less is no reason")
        self.assertEqual(self.made(at=NOW + LASTS - RENEWED - timedelta(days=1)).fingerprint, first)
        renewed = self.made(at=NOW + LASTS - RENEWED + timedelta(days=1))
        self.assertNotEqual(renewed.fingerprint, first)
        moved = self.made("192.168.7.9", at=NOW)
        self.assertNotEqual(moved.fingerprint, renewed.fingerprint)
        (self.folder / "root.pem").unlink()
        again = self.made("192.168.7.9")
        self.assertTrue(self.holds(again, "192.168.7.9"), "a lost root takes its certificates with it")
        again.chain.write_text("torn")
        self.assertTrue(self.holds(self.made("192.168.7.9"), "192.168.7.9"))

    def test_addresses_are_private_and_of_this_machine(self) -> None:
        for address in own_addresses():
            found = ipaddress.ip_address(address)
            self.assertTrue(found.is_private and not found.is_loopback, address)
