"""Files inside the compiled resources of Qt (.rcc), whose layout Qt's sources tell (`qresource.cpp`, versions 1 to 3)."""

import struct
import zlib

# Flags of an entry.
ZLIB, FOLDER, ZSTD = 1, 2, 4


def files_in(resource):
    """Paths and bytes of the files in the bytes of a resource; those packed with zstd, which pictures never are, are left out."""
    magic, version, tree, data, names = struct.unpack_from(">4sIIII", resource)
    if magic != b"qres":
        raise ValueError("not a compiled resource of Qt")
    entry = 14 if version == 1 else 22

    def name_at(offset):
        length, = struct.unpack_from(">H", resource, names + offset)
        return resource[names + offset + 6:names + offset + 6 + 2 * length].decode("utf-16-be")

    def walk(index, path):
        at = tree + entry * index
        name, flags = struct.unpack_from(">IH", resource, at)
        path = f"{path}/{name_at(name)}" if index else ""
        if flags & FOLDER:
            count, first = struct.unpack_from(">II", resource, at + 6)
            for child in range(first, first + count):
                yield from walk(child, path)
        elif not flags & ZSTD:
            start = data + struct.unpack_from(">I", resource, at + 10)[0]
            size, = struct.unpack_from(">I", resource, start)
            content = resource[start + 4:start + 4 + size]
            yield path, zlib.decompress(content[4:]) if flags & ZLIB else content

    yield from walk(0, "")
