"""Certificates made on the spot: an authority, and one that it signed."""

import datetime

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID


def _named(name):
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])


def _signed(name, key, issuer, by, authority):
    now = datetime.datetime.now(datetime.UTC)
    return (
        x509.CertificateBuilder()
        .subject_name(_named(name))
        .issuer_name(_named(issuer))
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - datetime.timedelta(hours=1))
        .not_valid_after(now + datetime.timedelta(days=1))
        .add_extension(x509.BasicConstraints(ca=authority, path_length=None), critical=True)
        .sign(by, hashes.SHA256())
    )


def certificates(folder):
    """The files of an authority, of a certificate it signed, and of the key of that."""
    folder.mkdir()
    above, own = ec.generate_private_key(ec.SECP256R1()), ec.generate_private_key(ec.SECP256R1())
    authority = _signed("Harbour authority", above, "Harbour authority", above, True)
    certificate = _signed("Quillhaven farm", own, "Harbour authority", above, False)
    paths = folder / "authority.pem", folder / "certificate.pem", folder / "key.pem"
    pem = serialization.Encoding.PEM
    paths[0].write_bytes(authority.public_bytes(pem))
    paths[1].write_bytes(certificate.public_bytes(pem))
    plain = serialization.NoEncryption()
    paths[2].write_bytes(own.private_bytes(pem, serialization.PrivateFormat.PKCS8, plain))
    return paths
