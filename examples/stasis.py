"""Stasis in Python: stasis.h by ctypes. What the calls mean, their units and ranges: stasis.h."""

import ctypes
import ctypes.util
import os

_CHANNEL, _CONTROL, _SHAKE, _TRACK = range(4)


class Fault(Exception):
    """A feel is broken: the words say where and what to do."""


def _library() -> ctypes.CDLL:
    name = os.environ.get("STASIS_LIBRARY") or ctypes.util.find_library("stasis") or "libstasis.so.0"
    library = ctypes.CDLL(name)
    for call, answer in {
        "stasis_open_file": ctypes.c_void_p,
        "stasis_faults_text": ctypes.c_void_p,
        "stasis_explain": ctypes.c_void_p,
        "stasis_name": ctypes.c_char_p,
        "stasis_time": ctypes.c_double,
        "stasis_value": ctypes.c_double,
        "stasis_goal_of": ctypes.c_double,
        "stasis_velocity": ctypes.c_double,
    }.items():
        getattr(library, call).restype = answer
    return library


_calls = _library()


def _taken(place: int) -> str:
    text = ctypes.string_at(place).decode() if place else ""
    _calls.stasis_free(ctypes.c_void_p(place))
    return text


class Session:
    """A feel under way. Channels and controls go by their names."""

    def __init__(self, path: str, variant: str = "", take: str = "", fps: float = 0.0) -> None:
        faults = ctypes.c_void_p()
        self._handle = ctypes.c_void_p(
            _calls.stasis_open_file(
                path.encode(), variant.encode() or None, take.encode() or None, ctypes.c_double(fps), ctypes.byref(faults)
            )
        )
        if not self._handle:
            self._refuse(faults)

    def _refuse(self, faults: ctypes.c_void_p) -> None:
        words = _taken(_calls.stasis_faults_text(faults))
        _calls.stasis_faults_free(faults)
        raise Fault(words)

    def close(self) -> None:
        _calls.stasis_close(self._handle)
        self._handle = ctypes.c_void_p()

    def _find(self, kind: int, name: str) -> int:
        index = _calls.stasis_find(self._handle, kind, name.encode())
        if index < 0:
            raise KeyError(name)
        return index

    def press(self, control: str, button: int = 0) -> None:
        _calls.stasis_press(self._handle, self._find(_CONTROL, control), button)

    def release(self, control: str, button: int = 0) -> None:
        _calls.stasis_release(self._handle, self._find(_CONTROL, control), button)

    def cancel(self, control: str) -> None:
        _calls.stasis_cancel(self._handle, self._find(_CONTROL, control))

    def click(self, control: str, count: int) -> None:
        _calls.stasis_click(self._handle, self._find(_CONTROL, control), count)

    def pointer(self, control: str, counts: float) -> None:
        _calls.stasis_pointer(self._handle, self._find(_CONTROL, control), ctypes.c_double(counts))

    def stick(self, control: str, deflection: float) -> None:
        _calls.stasis_stick(self._handle, self._find(_CONTROL, control), ctypes.c_double(deflection))

    def hit(self, shake: str, strength: float = 1.0) -> None:
        _calls.stasis_hit(self._handle, self._find(_SHAKE, shake), ctypes.c_double(strength))

    def place(self, track: str, x: float, y: float = 0.0, z: float = 0.0) -> None:
        _calls.stasis_place(self._handle, self._find(_TRACK, track), *map(ctypes.c_double, (x, y, z)))

    def advance(self, dt: float) -> None:
        _calls.stasis_advance(self._handle, ctypes.c_double(dt))

    @property
    def time(self) -> float:
        return _calls.stasis_time(self._handle)

    def channels(self) -> "list[tuple[str, int]]":
        """Each channel's name, and how many components it has."""
        count = _calls.stasis_count(self._handle, _CHANNEL)
        return [
            (_calls.stasis_name(self._handle, _CHANNEL, i).decode(), _calls.stasis_components(self._handle, i))
            for i in range(count)
        ]

    def value(self, channel: str, component: int = 0) -> float:
        return _calls.stasis_value(self._handle, self._find(_CHANNEL, channel), component)

    def goal(self, channel: str, component: int = 0) -> float:
        return _calls.stasis_goal_of(self._handle, self._find(_CHANNEL, channel), component)

    def velocity(self, channel: str, component: int = 0) -> float:
        return _calls.stasis_velocity(self._handle, self._find(_CHANNEL, channel), component)

    def set(self, path: str, value: str) -> None:
        faults = ctypes.c_void_p()
        if not _calls.stasis_set(self._handle, path.encode(), value.encode(), ctypes.byref(faults)):
            self._refuse(faults)

    def explain(self, channel: str) -> str:
        return _taken(_calls.stasis_explain(self._handle, self._find(_CHANNEL, channel)))
