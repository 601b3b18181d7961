"""Whose turn it is: each project by itself, or all at once."""

import threading
import time

from deftarc.store.turns import Turns


def beside(call):
    thread = threading.Thread(target=call, daemon=True)
    thread.start()
    return thread


def test_one_project_that_takes_long_keeps_no_other_waiting():
    turns, go, told = Turns(), threading.Event(), []

    def long():
        with turns.of("large"):
            told.append("in")
            go.wait(10)

    def same():
        with turns.of("large"):
            told.append("after")

    first = beside(long)
    while not told:
        time.sleep(0.005)
    with turns.of("small"), turns.of("small"):
        told.append("other")
    second = beside(same)
    time.sleep(0.05)
    assert told == ["in", "other"]
    go.set()
    first.join(10)
    second.join(10)
    assert told == ["in", "other", "after"]


def test_who_has_all_waits_for_those_within_and_lets_nobody_begin():
    turns, go, told = Turns(), threading.Event(), []

    def within():
        with turns.of("a"):
            told.append("within")
            go.wait(10)

    def everything():
        with turns.all(), turns.all(), turns.of("b"):
            told.append("all")
            time.sleep(0.05)

    def late():
        with turns.of("c"):
            told.append("late")

    threads = [beside(within)]
    while not told:
        time.sleep(0.005)
    threads.append(beside(everything))
    time.sleep(0.05)
    threads.append(beside(late))
    time.sleep(0.05)
    assert told == ["within"]
    go.set()
    for each in threads:
        each.join(10)
    assert told == ["within", "all", "late"]
