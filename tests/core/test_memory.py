"""What several threads ask for is computed by one of them."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from rushweed.core.gather.memory import Memory
from rushweed.core.values import Refusal


@pytest.mark.parametrize("size", [1, 1 << 20])
def test_threads_that_ask_for_the_same_wait_for_the_one_that_computes_it(size: int) -> None:
    memory, begun, goes_on = Memory(), threading.Event(), threading.Event()
    computed: list[int] = []

    def slowly() -> np.ndarray:
        begun.set()
        assert goes_on.wait(5)
        computed.append(threading.get_ident())
        return np.zeros(size, np.uint8)

    with ThreadPoolExecutor(4) as threads:
        first = threads.submit(memory.get, "key", slowly)
        assert begun.wait(5)
        others = [threads.submit(memory.get, "key", slowly) for _ in range(3)]
        assert memory.get("another", lambda: 7) == 7, "nobody else waits"
        goes_on.set()
        assert all(other.result(5) is first.result(5) for other in others)
    assert len(computed) == 1


def test_a_thread_that_waited_for_one_that_failed_computes_it_itself() -> None:
    memory, begun, goes_on = Memory(), threading.Event(), threading.Event()

    def in_vain() -> int:
        begun.set()
        assert goes_on.wait(5)
        raise Refusal("There is nothing.")

    with ThreadPoolExecutor(2) as threads:
        first = threads.submit(memory.get, "key", in_vain)
        assert begun.wait(5)
        other = threads.submit(memory.get, "key", lambda: 3)
        goes_on.set()
        with pytest.raises(Refusal):
            first.result(5)
        assert other.result(5) == 3


def test_what_is_computed_may_keep_the_same_on_its_way() -> None:
    memory = Memory()
    assert memory.get("key", lambda: memory.get("key", lambda: 3) + 0) == 3
    assert memory.get("key", lambda: 4) == 3
