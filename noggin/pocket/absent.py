"""Packages that a phone's Python has no build of. Their names can be imported, so that the modules which
use them load; whoever uses one is refused in plain words."""

import sys
from collections.abc import Sequence
from importlib.abc import Loader, MetaPathFinder
from importlib.machinery import ModuleSpec
from types import ModuleType
from typing import Any, NoReturn

from noggin.core.errors import NogginError

ABSENT = {
    *("PIL", "argon2", "backports", "brotli", "cv2", "fcntl", "multiprocessing", "numpy", "pillow_heif"),
    *("rawpy", "regex", "resource", "tzfpy"),
}
"""Each needs a compiler, or the processes of an operating system."""


class NotInPocket(NogginError):
    """What was asked for is worked out where Noggin's server runs, not on a phone."""

    def __init__(self, name: str) -> None:
        super().__init__(f"The pocket edition leaves this out (it needs {name.split('.')[0]}).")


class AbsentName:
    """A name of an absent package. It may stand in annotations, and be called while modules are loaded;
    everything else is refused."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __getattr__(self, name: str) -> "AbsentName":
        if name.startswith("__"):
            raise AttributeError(name)
        return AbsentName(f"{self._name}.{name}")

    def __getitem__(self, _: object) -> "AbsentName":
        return self

    def __or__(self, _: object) -> "AbsentName":
        return self

    __ror__ = __or__

    def __mro_entries__(self, _: object) -> tuple[type, ...]:
        return ()

    def __call__(self, *_: object, **__: object) -> "AbsentName":
        # Modules make tables of what they import as they are loaded; what is made so is refused when used.
        if not _Finder.loading:
            raise NotInPocket(self._name)
        return self

    def _refused(self, *_: object) -> NoReturn:
        raise NotInPocket(self._name)

    __bool__ = __float__ = __iter__ = __len__ = __matmul__ = __rmatmul__ = _refused


class _AbsentModule(ModuleType):
    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        # What is caught must be a kind of exception; nothing here ever raises it.
        if name.endswith(("Error", "Exception", "Mismatch", "Warning")):
            return type(name, (Exception,), {})
        return AbsentName(f"{self.__name__}.{name}")


class _Finder(MetaPathFinder, Loader):
    loading = True

    def find_spec(
        self, fullname: str, _path: Sequence[str] | None, _target: ModuleType | None = None
    ) -> ModuleSpec | None:
        if fullname.split(".")[0] not in ABSENT:
            return None
        return ModuleSpec(fullname, self, is_package=True)

    def create_module(self, spec: ModuleSpec) -> ModuleType:
        return _AbsentModule(spec.name)

    def exec_module(self, module: ModuleType) -> None:
        """Nothing is in it."""


def stand_in() -> None:
    """Let absent packages be imported from now on. What is there is taken first."""
    if not any(isinstance(finder, _Finder) for finder in sys.meta_path):
        sys.meta_path.append(_Finder())


def all_loaded() -> None:
    """Refuse from now on to call what is absent: what uses it is loaded."""
    _Finder.loading = False
