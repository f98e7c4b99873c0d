"""A small lender: serves the Data Packages of a folder over HTTP, for trying out and for tests.

``GET /catalogue.json`` tells what there is, ``GET /packages/NAME.zip`` gives one.
"""

import hashlib
import io
import json
import zipfile
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

from hobrix.core.errors import FormatError
from hobrix.core.formats import read_file
from hobrix.web.lending.catalogue import Catalogue, Offer, OfferedVariable


def catalogue_of(folder: Path, title: str) -> Catalogue:
    """What the packages of a folder hold; those that cannot be read are not offered."""
    offers = []
    for path in sorted(folder.glob("*.zip")):
        try:
            offers.append(_offer(path))
        except (FormatError, KeyError, ValueError, zipfile.BadZipFile):
            continue
    return Catalogue(title=title, offers=tuple(offers))


def _offer(path: Path) -> Offer:
    content = path.read_bytes()
    read = read_file(path.name, content)
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        said = json.loads(archive.read("datapackage.json"))
    variables = read.codebook.variables if read.codebook else ()
    return Offer(
        name=path.stem,
        title=said.get("title") or path.stem,
        description=said.get("description", ""),
        years=str(said.get("years", "")),
        rows=read.table.rows,
        case=said.get("case", ""),
        order=said.get("order", ""),
        terms=said.get("terms", ""),
        note=read.codebook.note if read.codebook else "",
        version=version_of(content),
        size=len(content),
        variables=tuple(OfferedVariable(name=v.name, label=v.label) for v in variables),
    )


def version_of(package: bytes) -> str:
    """Changes with the content of a package."""
    return hashlib.sha256(package).hexdigest()[:16]


def lender_server(folder: Path, title: str, port: int = 0) -> ThreadingHTTPServer:
    """A server on loopback; its packages are read anew whenever it is asked."""

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            if self.path == "/catalogue.json":
                body = catalogue_of(folder, title).model_dump_json().encode()
                self._send(200, "application/json", body)
                return
            name = self.path.removeprefix("/packages/").removesuffix(".zip")
            file = folder / f"{name}.zip"
            if self.path != f"/packages/{name}.zip" or "/" in name or not file.is_file():
                self._send(404, "text/plain", b"There is no such package.")
                return
            self._send(200, "application/zip", file.read_bytes())

        def _send(self, status: int, kind: str, body: bytes) -> None:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, *_: object) -> None:
            """Quietly."""

    return ThreadingHTTPServer(("127.0.0.1", port), Handler)
