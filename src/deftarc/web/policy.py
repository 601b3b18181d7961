"""What an answer allows its page to load and to run: the security headers and the content security policy.

Scripts run only where the page that came from here names them with the nonce of its own answer, so that a script
element made of a name runs nothing, not even one of our own files. Strings become elements only through the check in
``static/js/trust.js`` (Trusted Types).
"""

import re
import secrets

HEADERS = {
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "x-frame-options": "DENY",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}
#: Scripts that run beside the page (workers, audio worklets) cannot carry a nonce: they are named by their folder, in
#: which nothing does anything in a page.
WORKLETS = "/static/worklets/"
#: The workbench of a project: the one page that frames something, the preview of what it delivers.
_WORKBENCH = re.compile(r"/projects/([a-z0-9]{1,40})")
#: A host as a source in a policy: names and addresses of version 4. One of version 6 cannot be written there.
_SOURCE = re.compile(r"[a-z0-9.-]+(:\d{1,5})?")
#: The documentation of the API is another's script, which makes its elements itself and shows nothing of a project.
_TYPED = "require-trusted-types-for 'script'; trusted-types default; "
UNTYPED = frozenset({"/docs"})


def nonce() -> str:
    """A number used once: the scripts of one answer."""
    return secrets.token_urlsafe(18)


def policy(host: str, path: str = "", nonce: str = "") -> str:
    """The content security policy of an answer to a host that was let in; of any other, with an empty host, one that
    allows no script and no connection.
    """
    known = _SOURCE.fullmatch(host) is not None
    scripts = [f"'nonce-{nonce}'"] if nonce else []
    beside = [f"{host}{WORKLETS}"] if known else []
    bench = _WORKBENCH.fullmatch(path)
    framed = [f"{host}/projects/{bench[1]}/deliver/picture"] if known and bench else []
    return (
        f"default-src 'none'; script-src {_sources(scripts + beside)}; script-src-attr 'none'; style-src 'self'; "
        "img-src 'self' data: blob:; font-src 'self'; media-src 'self'; "
        f"frame-src {_sources(framed)}; child-src 'none'; worker-src {_sources(beside)}; "
        f"connect-src 'self' ws://{host} wss://{host}; "
        f"{'' if path in UNTYPED else _TYPED}form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    )


def _sources(named: list[str]) -> str:
    return " ".join(named) or "'none'"
