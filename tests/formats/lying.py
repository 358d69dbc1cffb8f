"""ZIP files that state what is not so, or that no program of good will would make: one of each kind, by name."""

from __future__ import annotations

import base64
import io
import json
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator

MEGABYTE = 1 << 20


def entry(
    name: bytes, packed: bytes, method: int, stated: int, crc: int = 0, flags: int = 0, at: int = 0
) -> tuple[bytes, bytes]:
    """An entry with its bytes, and its row of the directory (APPNOTE 6.3.10, sections 4.3.7 and 4.3.12)."""
    head = struct.pack("<HHHHHIIIHH", 63, flags, method, 0, 0x21, crc, len(packed), stated, len(name), 0)
    local = b"PK\x03\x04" + head + name + packed
    row = b"PK\x01\x02" + struct.pack("<H", 63) + head + struct.pack("<HHHII", 0, 0, 0, 0, at) + name
    return local, row


def archive(*entries: tuple[bytes, bytes, int, int, int, int]) -> bytes:
    """A ZIP of entries: name, packed bytes, method, stated size, checksum, flags."""
    body, rows = b"", b""
    for name, packed, method, stated, crc, flags in entries:
        local, row = entry(name, packed, method, stated, crc, flags, len(body))
        body, rows = body + local, rows + row
    end = struct.pack("<HHHHIIH", 0, 0, len(entries), len(entries), len(rows), len(body), 0)
    return body + rows + b"PK\x05\x06" + end


LONG = 400 * MEGABYTE
"""Zeros that are packed, many times what reading them may take."""

BZIP2 = b"c-nJ{%CIzaj8qGb<l}sFpE17Af#CoH1BU{GL4&WG(*o6%Tn*Dl<w5eD5ublE7<457<(VKV&ai4OQ&HHa(jwlyQ)!Ndhk^JeX9fVlA!U3"
LZMA = (
    b"c-rmF-)js2007`qhGjELY95RXJ5w7a#jsj3TBmG<Wg0arnr1RQVDn>ZEwznJ%Y&DN%rq2}qLVG@nn-Gt*~ZjLOQhY}=KL96zV9FS;%CMM_6Gtr"
    b"fk2>QIu>j1j^%CHzVP^lgS(zw34U*{n>{i1E%n0ttlo{AX5>FO_qw4Wl+~X2vHI56%W27lgGDL5RSm<ZqK{ju6OM!jPV6Wh9xX0>IJ19zYr@@<"
    b"#G~6rM_!(+@4mLD^KoeC@ZyTe{QCLjxsm#u;y~luon0$~EtN|)H!dGKcH?$h$&X;9_FZdR!?}#+U+Goji^8+oLT%IiT_2i~dR7!h|1_^(8+Y^m"
    b"SjCHDp}d55&B-124lI89=0SQ&aZ%l9S;5}tqbECyzK!gQn=|q1)4i$5g4HMbQui&*o%me1Il8JeKD#E8QU2vo_RpSYnI#=bTk^|tn-<KA&A%G0"
    b"JY5u>+ZSsMZcDl|b!K4l`kKt$;l|qE7te<esnu$=TCG;A)oQg`tyZhmYPDLeR;$%&wOXxKtJP|?TCG;A)oQg`tyZhmYPDLeR;$%&wOXxKtJP|?"
    b"TCG;A)oQg`tyZhmYPDLeR;$%&wOXxKtJP|?TCG;A)oQg`tyZhmYPDLeR;$%&wOXxKtJP|?TCG;A)oQg`tyZhmYPDLeR;$%&wOXxKtJP|?TCG;A"
    b")oQg`tyZhmYPDLeR;$%&wOXxKtJP|?TCG;A)oQg`tyZhmYPDLeR;$%&wOXxKtJP}tf3451yEMKmC-yfo82AU3It%I"
)
"""`LONG` zeros packed by bzip2, and by LZMA as an entry has it (APPNOTE, section 5.8.8), each packed again by zlib and in
base 85: packing them here would take seconds."""


def unwrapped(text: bytes) -> bytes:
    return zlib.decompress(base64.b85decode(text))


def deflated(size: int) -> bytes:
    """Zeros, by one block again and again."""
    packer = zlib.compressobj(9, zlib.DEFLATED, -15)
    block = packer.compress(bytes(4 * MEGABYTE)) + packer.flush(zlib.Z_FULL_FLUSH)
    return block * (size // (4 * MEGABYTE)) + packer.flush()


def honest(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in files.items():
            made.writestr(name, data)
    return out.getvalue()


def bombs(manifest: bytes) -> Iterator[tuple[str, bytes]]:
    """What unpacks to far more than it states; manifest: the name of the file that is read first."""
    for how, method, packed in (
        ("bzip2", zipfile.ZIP_BZIP2, unwrapped(BZIP2)),
        ("LZMA", zipfile.ZIP_LZMA, unwrapped(LZMA)),
        ("deflate", zipfile.ZIP_DEFLATED, deflated(LONG)),
    ):
        yield f"{how} that states 100 bytes", archive((manifest, packed, method, 100, 0, 0))
        yield f"{how} that states what it is", archive((manifest, packed, method, LONG, 0, 0))
    yield "a method that nobody knows", archive((manifest, b"x", 77, 100, 0, 0))
    yield "stored, and shorter than stated", archive((manifest, b"{}", 0, 60 * MEGABYTE, 0, 0))
    yield "encrypted", archive((manifest, b"x" * 40, 8, 100, 0, 1))
    one = deflated(28 * MEGABYTE)
    rows = [entry(b"blobs/%064d" % k, one, 8, 28 * MEGABYTE)[1] for k in range(3)]
    body = entry(manifest, one, 8, 28 * MEGABYTE)[0]
    end = b"PK\x05\x06" + struct.pack("<HHHHIIH", 0, 0, 3, 3, sum(map(len, rows)), len(body), 0)
    yield "entries that share their bytes", body + b"".join(rows) + end


def crowds(manifest: bytes) -> Iterator[tuple[str, bytes]]:
    """Too many entries, one twice, and names that lead elsewhere."""
    many = [(b"%d" % k, b"", 0, 0, 0, 0) for k in range(2000)]
    small = archive(*many)
    rows = small[small.index(b"PK\x01\x02") : small.index(b"PK\x05\x06")] * 60
    end = b"PK\x05\x06" + struct.pack("<HHHHIIH", 0, 0, 65535, 65535, len(rows), 0, 0)
    yield "120,000 entries", rows + end
    yield "a name twice", archive(*[(manifest, b"{}", 0, 2, zlib.crc32(b"{}"), 0)] * 2)
    for name in (b"../../etc/passwd", b"/etc/passwd", b"a\x01b", b"C:\\x", b"a\nb"):
        yield (
            f"the name {name!r}",
            archive((name, b"x", 0, 1, zlib.crc32(b"x"), 0), (manifest, b"{}", 0, 2, zlib.crc32(b"{}"), 0)),
        )


def texts(manifest: str) -> Iterator[tuple[str, bytes]]:
    """JSON that takes far more memory than it has bytes, and numbers that no program holds."""
    yield "millions of lists", honest({manifest: b"[" + b"[]," * 5_000_000 + b"[]]"})
    yield "lists in lists", honest({manifest: b"[" * 100_000 + b"]" * 100_000})
    yield "objects in objects", honest({manifest: b'{"a":' * 50_000 + b"1" + b"}" * 50_000})
    yield "a number of a million digits", honest({manifest: b'{"pivrel": 1' + b"0" * 1_000_000 + b"}"})
    yield "1e400", honest({manifest: b'{"pivrel": 1e400, "material": 1e400}'})
    yield "not a number", honest({manifest: b'{"pivrel": NaN, "material": NaN}'})
    yield "no text", honest({manifest: b"\xff\xfe\x00\xd8" * 40})
    edits = {f"journal/{k}.json": b"[" + b"[]," * 1_000_000 + b"[]]" for k in range(30)}
    yield "lists in many files", honest({manifest: b'{"pivrel": 2}', **edits})
    yield (
        "one long text",
        honest({manifest: json.dumps({"pivrel": 2, "name": "x" * (15 * MEGABYTE)}).encode()}),
    )


LYING: tuple[Callable[[str], Iterator[tuple[str, bytes]]], ...] = (
    lambda manifest: bombs(manifest.encode()),
    lambda manifest: crowds(manifest.encode()),
    texts,
)


def every(manifest: str) -> dict[str, bytes]:
    """All of them by name. manifest: the file that is read first, which says what kind of archive it is."""
    return {name: data for kind in LYING for name, data in kind(manifest)}
