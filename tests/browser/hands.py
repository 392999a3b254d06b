"""Hands that are counted: taps, characters typed, keys pressed."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect


class Hands:
    """Somebody at the screen: each tap, each number that is typed and each key counts."""

    def __init__(self, page: Page) -> None:
        self.page, self.taps, self.numbers, self.keys, self.characters = page, 0, 0, 0, 0
        self.done: list[str] = []

    def tap(self, what: Locator) -> None:
        """Press something once."""
        what.click()
        self.taps += 1
        self.done.append(str(what).partition("selector=")[2][:70])

    def button(self, name: str) -> None:
        self.tap(self.page.get_by_role("button", name=re.compile(name)).first)

    def type(self, label: str, text: str) -> None:
        """Type a number; a field that has not the focus is tapped first."""
        field = self.page.get_by_label(label, exact=True)
        field.wait_for()
        if not field.evaluate("e => e === document.activeElement"):
            self.tap(field)
        self.page.keyboard.type(text)
        self.numbers += 1
        self.characters += len(text)

    def key(self, name: str) -> None:
        self.page.keyboard.press(name)
        self.keys += 1
        self.done.append(name)

    def at(self, words: str) -> None:
        """The step at hand is this one."""
        expect(self.page.get_by_role("heading", level=2, name=re.compile(words))).to_be_visible()
