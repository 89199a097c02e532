"""Cairo font faces over the font files themselves, so that Cairo draws the very glyphs that were shaped."""

from __future__ import annotations

import ctypes.util
import threading
from typing import Any

import cairocffi
from cffi import FFI

from echelle.drawing.fonts.font_files import FACES

_ffi = FFI()
_ffi.include(cairocffi.ffi)
_ffi.cdef(
    """
    typedef void *FT_Library; typedef void *FT_Face;
    int FT_Init_FreeType(FT_Library *library);
    int FT_New_Face(FT_Library library, const char *path, long index, FT_Face *face);
    cairo_font_face_t *cairo_ft_font_face_create_for_ft_face(FT_Face face, int load_flags);
    """
)
_NO_HINTING = 0x2


class CairoFaces(threading.local):
    """Font faces of one thread: FreeType faces may not be used by two threads at once."""

    def __init__(self) -> None:
        self._freetype: Any = _ffi.dlopen(ctypes.util.find_library("freetype") or "libfreetype.so.6")
        self._cairo: Any = _ffi.dlopen(ctypes.util.find_library("cairo") or "libcairo.so.2")
        library = _ffi.new("FT_Library *")
        if self._freetype.FT_Init_FreeType(library):
            raise RuntimeError("FreeType does not start")
        self._library = library[0]
        self._faces: dict[str, cairocffi.FontFace] = {}

    def __call__(self, id: str) -> cairocffi.FontFace:
        """The Cairo face of a face id, without hinting."""
        if id not in self._faces:
            opened = _ffi.new("FT_Face *")
            if self._freetype.FT_New_Face(self._library, str(FACES[id].path).encode(), 0, opened):
                raise RuntimeError(f"FreeType cannot open {FACES[id].path.name}")
            pointer = self._cairo.cairo_ft_font_face_create_for_ft_face(opened[0], _NO_HINTING)
            self._faces[id] = cairocffi.FontFace._from_pointer(pointer, incref=False)
        return self._faces[id]


cairo_face = CairoFaces()
