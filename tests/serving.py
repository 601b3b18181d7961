"""A server as a process of its own, to be stopped, killed and started again."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request


def free_port():
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return found.getsockname()[1]


def ask(port, method, path, body=None, headers=None, timeout=30):
    """A program's request, without cookies: (status, the answer), the latter as data where it is JSON."""
    data = json.dumps(body).encode() if body is not None and not isinstance(body, bytes) else body
    request = urllib.request.Request(
        f"http://127.0.0.1:{port}{path}", data, {"content-type": "application/json", **(headers or {})}, method=method
    )
    try:
        with urllib.request.urlopen(request, timeout=timeout) as answer:
            status, got = answer.status, answer.read()
    except urllib.error.HTTPError as error:
        status, got = error.code, error.read()
    try:
        return status, json.loads(got)
    except ValueError:
        return status, got


class Server:
    """``deftarc serve`` on a folder."""

    def __init__(self, folder, *more, port=None, env=None):
        self.folder, self.port = folder, port or free_port()
        command = [sys.executable, "-m", "deftarc.cli", "serve", "--data", str(folder), "--port", str(self.port), *more]
        self.process = subprocess.Popen(
            command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env={**os.environ, **(env or {})}
        )

    def ready(self):
        """Waits until it answers; returns itself."""
        for _ in range(1800):
            if self.process.poll() is not None:
                raise AssertionError(self.process.stderr.read())
            try:
                with socket.create_connection(("127.0.0.1", self.port), 0.2):
                    return self
            except OSError:
                time.sleep(0.05)
        raise AssertionError("It never answered")

    def ask(self, method, path, body=None, headers=None, timeout=30):
        return ask(self.port, method, path, body, headers, timeout)

    def upload(self, path, name, data, fields=(), timeout=30):
        return self.ask(
            "POST", path, form(name, data, fields), {"content-type": "multipart/form-data; boundary=wave"}, timeout
        )

    def kill(self):
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def end(self, within=20):
        """Ends it as a system would; returns the seconds that took."""
        begun = time.monotonic()
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(within)
        return time.monotonic() - begun


def form(name, data, fields=()):
    parts = [
        b'--wave\r\nContent-Disposition: form-data; name="%s"\r\n\r\n%s\r\n' % (key.encode(), str(value).encode())
        for key, value in dict(fields).items()
    ]
    parts.append(
        b'--wave\r\nContent-Disposition: form-data; name="file"; filename="%s"\r\n\r\n' % name.encode()
        + data
        + b"\r\n--wave--\r\n"
    )
    return b"".join(parts)
