"""A ZIP that is written as it is read: no file and no book of it is ever held in memory."""

from __future__ import annotations

import csv
import datetime as dt
import hashlib
import io
import zipfile
from collections.abc import Callable, Iterable, Iterator, Mapping
from pathlib import Path, PurePosixPath
from typing import Any

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say

PIECE = 1 << 18


class _Out(io.RawIOBase):
    """What was written since it was last taken."""

    def __init__(self) -> None:
        self.parts: list[bytes] = []
        self.held = 0

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self.parts.append(bytes(data))
        self.held += len(data)
        return len(data)

    def taken(self) -> bytes:
        whole = b"".join(self.parts)
        self.parts, self.held = [], 0
        return whole


class Zipped:
    """Members are added one after another; each generator yields what has been written so far."""

    def __init__(self, made: dt.datetime) -> None:
        self._out = _Out()
        self._zip = zipfile.ZipFile(self._out, "w", zipfile.ZIP_DEFLATED, compresslevel=6)
        self._at = made.timetuple()[:6]
        self.digests: dict[str, str] = {}

    def add(self, name: str, pieces: Iterable[bytes], packed: bool = True) -> Iterator[bytes]:
        """Add a member from its pieces."""
        info = zipfile.ZipInfo(name, self._at)
        info.compress_type = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
        info.external_attr = 0o600 << 16
        digest = hashlib.sha256()
        with self._zip.open(info, "w", force_zip64=True) as member:
            for piece in pieces:
                digest.update(piece)
                member.write(piece)
                if self._out.held > PIECE:
                    yield self._out.taken()
        self.digests[name] = digest.hexdigest()

    def end(self) -> bytes:
        """The list of members, without which it is no ZIP."""
        self._zip.close()
        return self._out.taken()


def file_pieces(path: Path) -> Iterator[bytes]:
    """A file in pieces."""
    with path.open("rb") as file:
        while piece := file.read(PIECE):
            yield piece


def csv_pieces(headings: Iterable[str], rows: Iterable[Iterable[Any]], plain: Callable[[Any], Any]) -> Iterator[bytes]:
    """Rows as CSV in UTF-8, with the mark by which a spreadsheet knows it."""
    out = io.StringIO()
    writer = csv.writer(out)
    out.write("\ufeff")
    writer.writerow(headings)
    for row in rows:
        writer.writerow([plain(cell) for cell in row])
        if out.tell() > PIECE // 4:
            yield out.getvalue().encode()
            out.seek(0)
            out.truncate()
    yield out.getvalue().encode()


# What opening a file throws that is none of ours, or is damaged.
BROKEN = (zipfile.BadZipFile, KeyError, ValueError, EOFError, OSError, TypeError, AttributeError, NotImplementedError, RuntimeError)


def prove(packed: zipfile.ZipFile, members: Mapping[str, str]) -> None:
    """Read each member and hold it against its SHA-256; raises Inconsistent for one that is not what it was, or would be written elsewhere."""
    for name, digest in members.items():
        if PurePosixPath(name).is_absolute() or ".." in PurePosixPath(name).parts:
            raise Inconsistent(say("This file is none of Barodex: it would write elsewhere."), field="file", value=name)
        found = hashlib.sha256()
        with packed.open(name) as member:
            while piece := member.read(PIECE):
                found.update(piece)
        if found.hexdigest() != digest:
            raise Inconsistent(say("The file is damaged: {name} is not what it was.", name=name), field="file", value=name)
