"""A unit's channel that is stepped by the half minute: the tests' own simulation, which knows no spans and no events.

It holds a mode, a timer and an output, after the page of the plan file: entries act first, then a timer that runs out,
then what somebody does. Clock times are those of a place without daylight saving.
"""

from bisect import bisect_left

from hypothesis import strategies as st

STEPS_A_DAY = 2 * 1440

switchings = st.lists(
    st.tuples(st.booleans(), st.integers(0, 1439)), min_size=1, max_size=4, unique_by=lambda found: found[1]
)
settings_said = st.one_of(
    st.sampled_from(["on", "off", "auto", "auto-on", "auto-off"]),
    st.builds(lambda m: {"boost_min": m}, st.integers(1, 900)),
    st.builds(lambda m, then: {"countdown_min": m, "then": then}, st.integers(1, 900), st.sampled_from(["on", "off"])),
    st.builds(lambda d: {"holiday_days": d}, st.integers(1, 3)),
)


class SteppedUnit:
    """``entries`` are on or off and the minute of every day; ``chosen`` a step, and what somebody sets then."""

    def __init__(self, entries, chosen, *, waits):
        self.entries, self.chosen, self.waits = entries, chosen, waits
        self.program = self.output = False
        self.held = False  # by hand or by a timer: entries do not act
        self.runs_out, self.then = None, None

    def outputs(self, days):
        """Whether the output is on at each step of so many days; the day before them it has run its program."""
        found, step, end = [], -STEPS_A_DAY, days * STEPS_A_DAY
        daily = {day * STEPS_A_DAY + 2 * minute for _, minute in self.entries for day in range(-1, days)}
        acting = [*sorted(daily | {when for when, _ in self.chosen}), end]
        while step < end:  # between two at which something happens it stays as it is
            following = acting[bisect_left(acting, step)]
            if self.runs_out is not None and step <= self.runs_out:
                following = min(following, self.runs_out)
            following = min(following, end)
            found += [self.output] * (following - step)
            if following < end:
                self.step(following)
                found.append(self.output)
            step = following + 1
        return found[STEPS_A_DAY:]

    def step(self, step):
        for on in (on for on, minute in self.entries if 2 * minute == step % STEPS_A_DAY):
            self.program = on
            self.output = self.output if self.held else on
        if step == self.runs_out:
            self.output = self.program if self.then is None else self.then
            self.held, self.runs_out = False, None
        for said in (said for when, said in self.chosen if when == step):
            self.set(step, said)

    def set(self, step, said):
        was_held, self.runs_out, self.then = self.held, None, None
        if said == "auto":
            if was_held and not self.waits:
                self.output = self.program
            self.held = False
        elif said in ("auto-on", "auto-off"):
            self.held, self.output = False, said == "auto-on"
        elif said in ("on", "off"):
            self.held, self.output = True, said == "on"
        elif "boost_min" in said:
            self.held, self.output, self.runs_out = True, True, step + 2 * said["boost_min"]
        elif "countdown_min" in said:
            self.held, self.runs_out, self.then = True, step + 2 * said["countdown_min"], said["then"] == "on"
        else:
            self.held, self.output, self.runs_out = True, False, step + STEPS_A_DAY * said["holiday_days"]
