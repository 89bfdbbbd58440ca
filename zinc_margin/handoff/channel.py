"""The connection to the printing system.

References
----------
RFC 8010 (2017), section 4: transport by HTTP.
"""

from __future__ import annotations

import http.client
import re
import socket
from pathlib import Path

from zinc_margin.gate.environment import variable
from zinc_margin.handoff import ipp
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.words import clean

_PATIENCE_S = 20
_PORT = 631


class _Local(http.client.HTTPConnection):
    """HTTP over a Unix socket."""

    def __init__(self, path: str) -> None:
        super().__init__("localhost", timeout=_PATIENCE_S)
        self._path = path

    def connect(self) -> None:
        self.sock = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.sock.settimeout(_PATIENCE_S)
        self.sock.connect(self._path)


def _connection() -> http.client.HTTPConnection:
    """Return a connection to the scheduler: CUPS_SERVER, its socket, or local port 631."""
    asked = variable("CUPS_SERVER")
    if asked.startswith("/"):
        return _Local(asked)
    if not asked:
        for path in ipp.SOCKETS:
            if Path(path).exists():
                return _Local(path)
    host, port = _address(asked or "localhost")
    return http.client.HTTPConnection(host, port, timeout=_PATIENCE_S)


_ADDRESS = re.compile(
    r"(?:\[(?P<bracketed>[\w:.%]+)\]|(?P<name>[\w.-]+))(?::(?P<port>\d{1,5}))?", re.ASCII
)


def _address(asked: str) -> tuple[str, int]:
    """Return host and port of a CUPS_SERVER: ``desk``, ``desk:631``, ``[::1]:631`` or ``::1``.

    The protocol's version may follow, as in ``desk/version=1.1``.

    Raises
    ------
    CannotDo
        If it is not an address.
    """
    server = asked.partition("/")[0]
    if server.count(":") > 1 and not server.startswith("["):
        server = f"[{server}]"
    match = _ADDRESS.fullmatch(server)
    port = int(match["port"] or _PORT) if match else 0
    if match is None or not 1 <= port <= 65_535:
        raise CannotDo(
            f"CUPS_SERVER is “{clean(asked)}”, which is not a server. Set it to a name and a port "
            "such as desk:631 or [::1]:631, or remove it."
        )
    return match["bracketed"] or match["name"], port


def send(path: str, body: bytes, document: Path | None = None) -> ipp.Answer:
    """Send a request to the scheduler and return its answer.

    Parameters
    ----------
    path : str
        Path of its address, for example ``/printers/desk``.
    document : Path, optional
        A file to send after the request.

    Raises
    ------
    CannotDo
        If there is no answer, or not in IPP.
    """
    size = len(body) + (document.stat().st_size if document is not None else 0)
    connection = _connection()
    try:
        connection.putrequest("POST", path, skip_host=True)
        connection.putheader("Host", "localhost")
        connection.putheader("Content-Type", "application/ipp")
        connection.putheader("Content-Length", str(size))
        connection.endheaders()
        connection.send(body)
        if document is not None:
            with document.open("rb") as file:
                while block := file.read(1 << 20):
                    connection.send(block)
        answer = connection.getresponse()
        data = answer.read()
    except (OSError, ValueError, http.client.HTTPException) as why:
        raise CannotDo(f"The printing system (CUPS) does not answer: {_plainly(why)}.") from why
    finally:
        connection.close()
    if answer.status != 200:
        raise CannotDo(f"The printing system refused the request: {answer.status} {answer.reason}.")
    return ipp.parse(data)


def _plainly(why: BaseException) -> str:
    if isinstance(why, TimeoutError):
        return "it took too long"
    if isinstance(why, http.client.RemoteDisconnected):
        return "it closed the connection"
    if isinstance(why, (http.client.HTTPException, ValueError)):
        return "its answer is incomplete or not HTTP"
    return getattr(why, "strerror", None) or str(why) or type(why).__name__
