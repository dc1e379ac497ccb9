"""The steps of a sheet done to the letter on a keypad."""

from dataclasses import replace

from skavit.core.sheet.checking import pressed


def follow(keypad, sheet):
    """Do what the steps of a sheet say, and nothing else; the titles of those whose display did not come."""
    failed = []
    for step in sheet:
        once = replace(step, way=(), repeat=1, then=())
        for press in step.way:
            keypad.press(press)
        for _ in range(step.repeat):
            for press in pressed(keypad, once):
                keypad.press(press)
            if step.kind == "empty" and step.display and not keypad.shows_empty:
                failed.append(step.title)
        for press in step.then:
            keypad.press(press)
    return failed
