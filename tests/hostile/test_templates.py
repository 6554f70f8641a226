"""Templates that want more than a file: all end in a sentence, and touch nothing."""

from __future__ import annotations

import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from rushweed.core.bale import rendering, templates
from rushweed.core.values import Refusal
from tests.hostile import amount, tried

LIMIT = 0.5
"""Seconds that a template may take here."""

ENDLESS = [
    "{% for a in range(99999) %}{% for b in range(99999) %}{% for c in range(9) %}{% endfor %}"
    "{% endfor %}{% endfor %}",
    "{{ 10 ** 100000000 }}",
    "{{ 7 ** (7 ** (7 ** 7)) }}",
    "{{ ('word ' * 2000000) | wordwrap(3) }}",
    "{% set x = 'a' * 999 %}{% for i in range(99999) %}{{ (x ~ i) | urlize }}{% endfor %}",
]
LARGE = [
    "{{ 'x' * 3000000000 }}",
    "{{ 'x' * 1000000000 ~ 'x' * 1000000000 }}",
    "{{ ['x'] * 2000000000 }}",
    "{{ 'x' | center(2000000000) }}",
    "{% for i in range(99999) %}{{ 'x' * 99999 }}{% endfor %}",
    "{{ '%1000000000d' | format(1) }}",
    "{{ 'x'.ljust(2000000000) }}",
]
REACHING = [
    "{{ ''.__class__.__mro__ }}",
    "{{ cycler.__init__.__globals__ }}",
    "{{ lipsum.__globals__['os'].popen('id').read() }}",
    "{% include '/etc/hostname' %}",
    "{% include '../project.rushweed' %}",
    "{% import 'os' as os %}",
    "{{ self.__init__.__globals__ }}",
    "{{ bundle.__class__.__base__.__subclasses__() }}",
    "{{ bundle.pop('pieces') }}",
    "{{ namespace.__init__.__globals__ }}",
]
WRONG = [
    "fine\n{{ bundle.nowhere }}",
    "{% for x in %}",
    "{% macro m() %}{{ m() }}{% endmacro %}{{ m() }}",
    "{% extends 'own.txt' %}",
    "{% include 'own.txt' %}",
    "{{ 1 // 0 }}",
    "{{ '{0.__class__}'.format(1) }}",
    "{{ ((((" + "(" * 3000,
    "{{ 'a' | no_such_filter }}",
    "\x00{{ x",
]


@pytest.mark.parametrize("text", ENDLESS + LARGE + REACHING + WRONG)
def test_a_template_ends_in_a_sentence_by_its_time(
    text: str, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    tried("templates without end, without measure, out of bounds")
    monkeypatch.setattr(rendering, "LONGEST", LIMIT)
    monkeypatch.chdir(tmp_path)
    with pytest.raises(Refusal, match=r"^The template own.txt.j2.*\.$"):
        templates.Rendering(["own.txt"], {"own.txt": text}, b'{"pieces": []}').texts()
    assert not list(tmp_path.iterdir())


@pytest.mark.parametrize("number", range(amount(3, 70)))
def test_one_that_is_stopped_ends_at_once(number: int) -> None:
    tried("templates that are stopped at work")
    work = templates.Rendering(["own.txt"], {"own.txt": ENDLESS[number % 3]}, b" " * 10**6 + b"{}")
    with ThreadPoolExecutor(1) as beside:
        texts = beside.submit(work.texts)
        while number and not work.begun:  # else it is stopped before it begins
            time.sleep(number % 7 / 1000)
        work.stop()
        with pytest.raises(Refusal, match="it was ended"):
            texts.result()
    process = work.begun
    if process is not None:
        assert process.poll() is not None, "nothing of it goes on"
        assert process.stdin.closed and process.stdout.closed
