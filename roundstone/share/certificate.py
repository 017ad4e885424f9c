"""A certificate of this workshop's own, since phones want one before they keep a screen awake or install a page.

A root of ten years signs one for this machine's names of a year; the root can be put on a phone and is good for nothing
but private addresses and names that end in .local, so that whoever stole it could not pose as anyone else (RFC 5280,
4.2.1.10). A year and a month is the longest that browsers take (CA/Browser Forum baseline requirements, 6.3.2).
"""

import ipaddress
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from .secret import keep

ROOT_LASTS, LASTS, RENEWED = timedelta(days=3650), timedelta(days=397), timedelta(days=30)
PRIVATE = ("10.0.0.0/8", "127.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "192.0.2.0/24", "fc00::/7")
CALLED = "Round Stone, this workshop's own"


@dataclass(frozen=True)
class Certificate:
    """Files of a certificate and its key, the root to put on a phone, and the SHA-256 fingerprint to compare."""

    chain: Path
    key: Path
    root: Path
    fingerprint: str


def certified(folder: Path, names: Sequence[str], now: datetime) -> Certificate:
    """A certificate for these addresses and names; made anew when one is missing in it or it ends within a month."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    root_key, root = _root(folder, now)
    chain, key = folder / "certificate.pem", folder / "certificate-key.pem"
    known = _read(chain)
    if known is None or not key.exists() or not _serves(known, names, root, now):
        own = ec.generate_private_key(ec.SECP256R1())
        known = _leaf(own, names, root_key, root, now)
        keep(key, _private(own))
        keep(chain, _pem(known) + _pem(root))
    digest = known.fingerprint(hashes.SHA256()).hex().upper()
    pairs = ":".join(digest[i : i + 2] for i in range(0, len(digest), 2))
    return Certificate(chain, key, folder / "root.pem", pairs)


def _root(folder: Path, now: datetime) -> tuple[ec.EllipticCurvePrivateKey, x509.Certificate]:
    path, kept = folder / "root.pem", folder / "root-key.pem"
    known = _read(path)
    if known is not None and kept.exists() and known.not_valid_after_utc > now + LASTS:
        key = serialization.load_pem_private_key(kept.read_bytes(), password=None)
        if isinstance(key, ec.EllipticCurvePrivateKey):
            return key, known
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, CALLED)])
    permitted = [x509.IPAddress(ipaddress.ip_network(n)) for n in PRIVATE] + [x509.DNSName("local")]
    root = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + ROOT_LASTS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(key_cert_sign=True, crl_sign=True), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=permitted, excluded_subtrees=None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    keep(kept, _private(key))
    keep(path, _pem(root))
    return key, root


def _leaf(
    key: ec.EllipticCurvePrivateKey,
    names: Sequence[str],
    root_key: ec.EllipticCurvePrivateKey,
    root: x509.Certificate,
    now: datetime,
) -> x509.Certificate:
    return (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, names[0])]))
        .issuer_name(root.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + LASTS)
        .add_extension(x509.SubjectAlternativeName([_general(n) for n in names]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(digital_signature=True), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(root_key.public_key()), critical=False)
        .sign(root_key, hashes.SHA256())
    )


def _usage(*, digital_signature: bool = False, key_cert_sign: bool = False, crl_sign: bool = False) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=digital_signature,
        key_cert_sign=key_cert_sign,
        crl_sign=crl_sign,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _general(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)


def _serves(known: x509.Certificate, names: Sequence[str], root: x509.Certificate, now: datetime) -> bool:
    """Whether it is of this root, for all these names, and good for a month at least."""
    try:
        known.verify_directly_issued_by(root)
        there = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (ValueError, TypeError, InvalidSignature, x509.ExtensionNotFound):
        return False
    return known.not_valid_after_utc - now > RENEWED and {_general(n) for n in names} <= set(there)


def _read(path: Path) -> x509.Certificate | None:
    try:
        return x509.load_pem_x509_certificate(path.read_bytes())
    except (OSError, ValueError):
        return None


def _pem(certificate: x509.Certificate) -> bytes:
    return certificate.public_bytes(serialization.Encoding.PEM)


def _private(key: ec.EllipticCurvePrivateKey) -> bytes:
    form = serialization.PrivateFormat.PKCS8
    return key.private_bytes(serialization.Encoding.PEM, form, serialization.NoEncryption())
