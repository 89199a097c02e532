"""The wheel: the core with every sub-package, and the font files that figures are drawn with."""

import runpy
import shutil
from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

FONTS = Path(__file__).parent / "echelle" / "drawing" / "fonts"


class BuildWithFonts(build_py):
    """Copies the font files beside the module that lists them."""

    def run(self) -> None:
        super().run()
        if self.editable_mode:
            return
        folder = Path(self.build_lib) / "echelle" / "drawing" / "fonts" / "files"
        folder.mkdir(parents=True, exist_ok=True)
        for face in runpy.run_path(str(FONTS / "font_files.py"))["FACES"].values():
            shutil.copy(face.path, folder)


setup(cmdclass={"build_py": BuildWithFonts})
