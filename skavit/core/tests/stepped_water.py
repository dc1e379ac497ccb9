"""A controller stepped ten seconds at a time: the tests' own simulation, after the page of the plan file.

Clock times are those of a place without daylight saving; days are daily or odd and even.
"""

from decimal import ROUND_HALF_UP, Decimal

STEP_S = 10
STEPS_A_DAY = 86_400 // STEP_S


class SteppedController:
    """``water`` as it stands in a plan file; ``dates`` are consecutive, the first ones the run-up."""

    def __init__(self, water, dates):
        self.water, self.dates = water, dates
        self.waiting, self.acting = [], []  # cycles to come; those that run, each a list of [station, steps]
        self.open = []  # at each step the stations that are open
        self.cycles = []  # [begin, end] steps
        self.starts = [  # each with its step of the day
            (program, (int(start[:2]) * 60 + int(start[3:])) * 60 // STEP_S)
            for program in water["programs"]
            for start in program["starts"]
        ]
        self.heard = {step for _, step in self.starts}

    def run(self):
        for step in range(len(self.dates) * STEPS_A_DAY):
            self.end_turns(step)
            if step % STEPS_A_DAY in self.heard:
                self.hear_starts(step)
            self.open.append({turns[0][0] for turns, _ in self.acting} - {None})
            for turns, _ in self.acting:
                turns[0][1] -= 1
        return self

    def end_turns(self, step):
        for cycle in list(self.acting):
            turns, begun = cycle
            while turns and turns[0][1] == 0:
                del turns[0]
            if not turns:
                self.acting.remove(cycle)
                self.cycles.append([begun, step])
        if not self.acting and self.waiting:
            pause = self.water.get("station_delay_s", 0) // STEP_S
            self.begin([[None, pause]] * bool(pause) + self.waiting.pop(0), step + pause)

    def begin(self, turns, step):
        self.acting.append(([list(turn) for turn in turns], step))

    def hear_starts(self, step):
        today = self.dates[step // STEPS_A_DAY]
        for program, at in self.starts:
            parity = program["days"]["parity"] if isinstance(program["days"], dict) else None
            if at == step % STEPS_A_DAY and parity in (None, "odd" if today.day % 2 else "even"):
                self.hear(self.turns(program, today.month - 1), step)

    def hear(self, turns, step):
        busy = self.water["when_busy"]
        if turns and self.acting and busy == "queue":
            self.waiting.append(turns)
        elif turns and not (self.acting and busy == "ignore"):
            self.begin(turns, step)

    def turns(self, program, month):
        grain, found = self.water["run_step_s"], []
        for run in program["runs"]:
            share = Decimal(str(program["adjust_pct"])) * Decimal(str(program["monthly_pct"][month])) / 10_000
            grains = (Decimal(str(run["run_min"])) * 60 * share / grain).to_integral_value(ROUND_HALF_UP)
            if grains:
                found.append([run["station"], int(grains) * grain // STEP_S])
        pause = self.water.get("station_delay_s", 0) // STEP_S
        if pause:
            found = [turn for each in found for turn in ([None, pause], each)][1:]
        return found

    def master_open(self):
        """At each step whether the master valve is open; cycles that still run at the end count to it."""
        master, steps = self.water["master_valve"], len(self.open)
        found = [False] * steps
        for begun, ended in self.cycles + [[begun, steps] for _, begun in self.acting]:
            low, high = begun - master["lead_s"] // STEP_S, ended + master["lag_s"] // STEP_S
            for step in range(max(low, 0), min(high, steps)):
                found[step] = True
        return found
