"""The window as a screen reader hears it: what the accessibility bus tells of names, roles, values
and what they become (AT-SPI 2, as freedesktop.org specifies it)."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any, NamedTuple, TypeVar

import pytest
from jeepney import DBusAddress, MatchRule, MessageType, new_method_call
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import DBusConnection, open_dbus_connection

pytestmark = pytest.mark.heard
ROOT, REGISTRY = "/org/a11y/atspi/accessible/root", "org.a11y.atspi.Registry"
SPI = "org.a11y.atspi"
LAUNCHERS = ("/usr/libexec/at-spi-bus-launcher", "/usr/lib/at-spi2-core/at-spi-bus-launcher")
FOCUSABLE, SHOWING = 11, 25
"""Bits of the states."""
PATIENCE = 300.0
Told = TypeVar("Told")
TABLES = ("Gathered pictures", "Pieces", "Line-up", "Shapes", "Level", "The game", "Pages")
"""How the tables of the stations are called."""


class Part(NamedTuple):
    """One thing that can be heard."""

    path: str
    role: str
    name: str
    states: int

    def is_(self, bit: int) -> bool:
        return bool(self.states >> bit & 1)


class Listener:
    """What a screen reader asks of one application."""

    def __init__(self, bus: DBusConnection, who: str) -> None:
        self._bus, self._who = bus, who

    def parts(self, path: str = ROOT) -> Iterator[Part]:
        """All that is showing, parents first."""
        part = self.part(path)
        if path == ROOT or part.is_(SHOWING):
            yield part
            for _, child in self.ask(path, "Accessible", "GetChildren"):
                yield from self.parts(child)

    def part(self, path: str) -> Part:
        low, high = self.ask(path, "Accessible", "GetState")
        role = self.ask(path, "Accessible", "GetRoleName")
        return Part(path, role, self.name(path), low | high << 32)

    def name(self, path: str) -> str:
        told = ask(self._bus, self._who, path, PROPERTIES, "Get", f"{SPI}.Accessible", "Name")
        return str(told[1])

    def named(self, beginning: str) -> Part:
        """What is called so, once it is to be seen."""
        return until(lambda: [part for part in self.parts() if part.name.startswith(beginning)])[0]

    def next_name(self, path: str, *act: object) -> str:
        """The name that a part is told to take after somebody did something."""
        rule = MatchRule(type="signal", interface=f"{SPI}.Event.Object", path=path)
        with self._bus.filter(rule) as changes:
            subprocess.run(["xdotool", *map(str, act)], check=True)
            while True:
                change = self._bus.recv_until_filtered(changes, timeout=PATIENCE)
                if change.body[0] == "accessible-name":
                    return self.name(path)

    def box(self, path: str) -> tuple[int, int, int, int]:
        """Where a part is on the screen, in pixels: left, top, width, height."""
        address = DBusAddress(path, self._who, f"{SPI}.Component")
        asking: Any = new_method_call(address, "GetExtents", "u", (0,))
        left, top, width, height = self._bus.send_and_get_reply(asking).body[0]
        return left, top, width, height

    def ask(self, path: str, interface: str, member: str) -> Any:
        return ask(self._bus, self._who, path, f"{SPI}.{interface}", member)


PROPERTIES = "org.freedesktop.DBus.Properties"


def ask(bus: DBusConnection, who: str, path: str, interface: str, member: str, *words: str) -> Any:
    address = DBusAddress(path, who, interface)
    message = new_method_call(address, member, "s" * len(words) or None, words)
    reply = bus.send_and_get_reply(message, timeout=PATIENCE)
    assert reply.header.message_type != MessageType.error, reply.body
    return reply.body[0]


def until(asked: Callable[[], Told]) -> Told:
    """What is told at last."""
    end = time.monotonic() + PATIENCE
    while not (told := asked()):
        assert time.monotonic() < end, "nothing is heard of it"
    return told


@contextmanager
def running(*command: str, **environment: str) -> Iterator[IO[str]]:
    """What a command says while it runs, and all that it starts."""
    with subprocess.Popen(
        command,
        stdout=subprocess.PIPE,
        env={**os.environ, **environment},
        text=True,
        start_new_session=True,
    ) as process:
        assert process.stdout is not None
        try:
            yield process.stdout
        finally:
            os.killpg(process.pid, signal.SIGKILL)


@pytest.fixture
def listener(demo: Path) -> Iterator[Listener]:
    launcher = next(path for path in LAUNCHERS if Path(path).exists())
    with running("dbus-daemon", "--session", "--print-address", "--nofork") as told:
        session = {"DBUS_SESSION_BUS_ADDRESS": told.readline().strip()}
        with (
            open_dbus_connection(session["DBUS_SESSION_BUS_ADDRESS"]) as desk,
            running(launcher, "--launch-immediately", **session),
        ):
            where = until(lambda: _address(desk))
            command = (sys.executable, "-m", "rushweed", str(demo))
            speaking = {"QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1", **session}
            with open_dbus_connection(where) as bus, running(*command, **speaking):
                bus.send_and_get_reply(message_bus.AddMatch(MatchRule(type="signal")))
                register = DBusAddress("/org/a11y/atspi/registry", REGISTRY, REGISTRY)
                asking: tuple[str, list[str], str] = (
                    "object:property-change:accessible-name",
                    [],
                    "",
                )
                bus.send_and_get_reply(new_method_call(register, "RegisterEvent", "sass", asking))
                root = (REGISTRY, ROOT, f"{SPI}.Accessible", "GetChildren")
                found = until(lambda: ask(bus, *root))
                listener = Listener(bus, found[0][0])
                listener.named("Strip of pieces")
                yield listener


def _address(desk: DBusConnection) -> str:
    """Where the accessibility bus is; nowhere until its launcher stands."""
    asking = new_method_call(
        DBusAddress("/org/a11y/bus", "org.a11y.Bus", "org.a11y.Bus"), "GetAddress"
    )
    reply = desk.send_and_get_reply(asking, timeout=PATIENCE)
    return "" if reply.header.message_type == MessageType.error else str(reply.body[0])


def test_all_that_is_seen_is_heard_and_the_selection_is_spoken(listener: Listener) -> None:
    for number, table in enumerate(TABLES, 1):
        subprocess.run(["xdotool", "key", f"ctrl+{number}"], check=True)
        listener.named(table)
        parts = list(listener.parts())
        assert not [part for part in parts if part.is_(FOCUSABLE) and not part.name], table
        assert {"push button", "label", "list item"} <= {part.role for part in parts}
        assert not {"invalid", "unknown"} & {part.role for part in parts}

    subprocess.run(["xdotool", "key", "ctrl+4"], check=True)
    shapes, strip = listener.named("Shapes: "), listener.named("Strip of pieces")
    left, top, *_ = listener.box(strip.path)
    for cell in (1, 2):
        act = ("mousemove", left + 30 + 42 * cell, top + 50, "click", 1)
        told = listener.next_name(shapes.path, *act)
        assert told.startswith(f"Shapes: piece {cell + 1} of 63, bank_") and told.endswith(
            ", solid"
        )
