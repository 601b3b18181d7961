"""A connection over which a request comes half is not kept open for the rest for ever."""

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

#: Seconds within which the head of a request has to come; what comes of its body has its own (bodies.py).
HEAD = 10.0


class Patient(H11Protocol):
    """The server's protocol, which gives up on a head that is not said to its end."""

    _head: asyncio.TimerHandle | None = None
    #: A socket is open over the connection, which is from then on another protocol's.
    _upgraded = False

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._expect()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self._upgraded or (self.cycle is not None and not self.cycle.response_complete):
            self._expected()
        elif self._head is None:
            # The first piece of another request.
            self._expect()

    def handle_websocket_upgrade(self, event: Any) -> None:
        self._upgraded = True
        super().handle_websocket_upgrade(event)

    def on_response_complete(self) -> None:
        super().on_response_complete()
        # What is idle from now on is closed by the server itself.
        self._expected()

    def connection_lost(self, exc: Exception | None) -> None:
        self._expected()
        super().connection_lost(exc)

    def _expect(self) -> None:
        self._expected()
        self._head = self.loop.call_later(HEAD, self._give_up)

    def _expected(self) -> None:
        if self._head is not None:
            self._head.cancel()
            self._head = None

    def _give_up(self) -> None:
        self._head = None
        if not self.transport.is_closing():
            self.transport.close()
