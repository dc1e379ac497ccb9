"""When somebody will be done."""

import numpy as np
from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.site.clock import zone_clock
from skavit.server.now import local_digits
from skavit.web.typed_fields import TimeField


class LeavingForm(forms.Form):
    """The time at which the unit will be left; empty: now."""

    at = TimeField(required=False, label="I finish at", help_text="Such as 06:20 or 6:20 am. Empty: now.")

    def instant(self, plan: Plan, now: int) -> int:
        """When the site's clock next shows the time that was typed; now where none was, or none that is one."""
        seconds = self.cleaned_data.get("at") if self.is_bound and self.is_valid() else None
        if seconds is None:
            return now
        today = local_digits(plan, now) // DAY_S
        year = day_of(today).year
        clock = zone_clock(plan.site.timezone, year - 1, year + 1)
        coming = clock.first((today + np.array([0, 1])) * DAY_S + seconds)
        return int(coming[coming >= now - 59][0])
