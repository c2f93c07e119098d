"""A disk that forgets: what SQLite has not asked it to sync is lost, or is there in part, in any order.

A layer between SQLite and the file system (a VFS, https://www.sqlite.org/vfs.html; the struct's
layout from `sqlite3.h`) notes each write and each sync, and can tell what would be on the disk if
the power failed now.
"""

from __future__ import annotations

import ctypes
import ctypes.util
import random
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

SQLITE: Any = ctypes.CDLL(ctypes.util.find_library("sqlite3") or "libsqlite3.so.0")

_OPEN = ctypes.CFUNCTYPE(
    ctypes.c_int, ctypes.c_void_p, ctypes.c_void_p, ctypes.c_void_p, ctypes.c_int, ctypes.c_void_p
)
_DELETE = ctypes.CFUNCTYPE(ctypes.c_int, ctypes.c_void_p, ctypes.c_void_p, ctypes.c_int)
_WRITE = ctypes.CFUNCTYPE(
    ctypes.c_int, ctypes.c_void_p, ctypes.c_void_p, ctypes.c_int, ctypes.c_int64
)
_TRUNCATE = ctypes.CFUNCTYPE(ctypes.c_int, ctypes.c_void_p, ctypes.c_int64)
_SYNC = ctypes.CFUNCTYPE(ctypes.c_int, ctypes.c_void_p, ctypes.c_int)
_CLOSE = ctypes.CFUNCTYPE(ctypes.c_int, ctypes.c_void_p)


class _Vfs(ctypes.Structure):
    _fields_ = [
        ("version", ctypes.c_int), ("file_size", ctypes.c_int), ("longest", ctypes.c_int),
        ("next", ctypes.c_void_p), ("name", ctypes.c_char_p), ("data", ctypes.c_void_p),
        ("open", _OPEN), ("delete", _DELETE),
        ("rest", ctypes.c_void_p * 14),
    ]  # fmt: skip


class _Methods(ctypes.Structure):
    _fields_ = [
        ("version", ctypes.c_int), ("close", _CLOSE), ("read", ctypes.c_void_p),
        ("write", _WRITE), ("truncate", _TRUNCATE), ("sync", _SYNC),
        ("rest", ctypes.c_void_p * 13),
    ]  # fmt: skip


class _File(ctypes.Structure):
    _fields_ = [("methods", ctypes.POINTER(_Methods))]


_KEPT: list[Any] = []


def _path(name: int) -> Path:
    return Path(ctypes.string_at(name).decode())


class ForgetfulDisk:
    """What is surely on the disk, file by file, and what may be or not."""

    def __init__(self) -> None:
        self.synced: dict[Path, bytes] = {}
        self.pending: dict[Path, list[tuple[int, bytes]]] = {}
        self.syncs = 0
        self._open: dict[int, Path] = {}
        self._lock = threading.RLock()
        self._by_original: dict[int, Any] = {}

    def after_power_loss(self, data: Path, folder: Path, rng: random.Random) -> None:
        """Put into a folder what would be left of another if the power failed now."""
        folder.mkdir()
        with self._lock:
            for path, content in self.synced.items():
                if path.parent != data:
                    continue
                survived = bytearray(content)
                for offset, part in self.pending.get(path, []):
                    if rng.random() < 0.5:
                        survived.extend(bytes(max(0, offset + len(part) - len(survived))))
                        survived[offset : offset + len(part)] = part
                (folder / path.name).write_bytes(survived)

    @contextmanager
    def between(self) -> Iterator[ForgetfulDisk]:
        """Stand between SQLite and the file system."""
        SQLITE.sqlite3_vfs_find.restype = ctypes.POINTER(_Vfs)
        unix = SQLITE.sqlite3_vfs_find(None)
        mine = _Vfs.from_buffer_copy(unix.contents)
        mine.name, mine.next = b"forgetful", None
        mine.open, mine.delete = _OPEN(self._opening(unix)), _DELETE(self._deleting(unix))
        SQLITE.sqlite3_vfs_register(ctypes.byref(mine), 1)
        try:
            yield self
        finally:
            SQLITE.sqlite3_vfs_register(unix, 1)
            SQLITE.sqlite3_vfs_unregister(ctypes.byref(mine))
            _KEPT.append((self, mine))  # files may still be open: SQLite has their addresses

    def _opening(self, unix: Any) -> Callable[..., int]:
        def opened(_: int, name: int | None, file: int, flags: int, out: int) -> int:
            # The name is handed on where it lies: SQLite keeps the address
            code: int = unix.contents.open(ctypes.addressof(unix.contents), name, file, flags, out)
            if code == 0 and name is not None:
                with self._lock:
                    path = _path(name)
                    self._open[file] = path
                    self.synced.setdefault(path, b"")
                    found = ctypes.cast(file, ctypes.POINTER(_File)).contents
                    found.methods = ctypes.pointer(self._methods(found.methods))
            return code

        return opened

    def _deleting(self, unix: Any) -> Callable[..., int]:
        def deleted(_: int, name: int, sync: int) -> int:
            with self._lock:
                self.synced.pop(_path(name), None)
                self.pending.pop(_path(name), None)
            code: int = unix.contents.delete(ctypes.addressof(unix.contents), name, sync)
            return code

        return deleted

    def _methods(self, original: Any) -> Any:
        at = ctypes.addressof(original.contents)
        if at in self._by_original:
            return self._by_original[at]
        base = original.contents
        mine = _Methods.from_buffer_copy(base)

        def written(file: int, data: int, size: int, offset: int) -> int:
            with self._lock:
                note = (offset, ctypes.string_at(data, size))
                self.pending.setdefault(self._open[file], []).append(note)
            code: int = base.write(file, data, size, offset)
            return code

        def truncated(file: int, size: int) -> int:
            code: int = base.truncate(file, size)
            return code

        def synced(file: int, flags: int) -> int:
            code: int = base.sync(file, flags)
            with self._lock:
                path = self._open[file]
                self.synced[path] = path.read_bytes()
                self.pending.pop(path, None)
                self.syncs += 1
            return code

        def closed(file: int) -> int:
            with self._lock:
                self._open.pop(file, None)
            code: int = base.close(file)
            return code

        mine.write, mine.truncate = _WRITE(written), _TRUNCATE(truncated)
        mine.sync, mine.close = _SYNC(synced), _CLOSE(closed)
        self._by_original[at] = mine
        return mine
