"""The calculators of heat, hot water, pulses, lamps and contacts: answers worked by hand, refusals, no login of a site."""

from django.urls import reverse

from skavit.calculators.tests.test_calculators import CalculatorsCase

ROOM = {
    "loss": "150",
    "capacity": "3000",
    "heater": "6000",
    "outside": "2",
    "start": "12",
    "aim": "20",
    "warm_at": "7:00",
}
STORE = {"litres": "180", "cold": "15", "hot": "60", "heater": "3000"}
RUN = {"supply": "12", "count": "2", "va": "12", "first": "10", "between": "20", "layout": "chain", "cable": "2.5 mm²"}


class HeatAndLoadsTest(CalculatorsCase):
    def test_each_answers_what_stands_in_its_address(self):
        for slug, inputs, texts in [
            # 1200 min x ln(30 / 22): 372 minutes before 7:00 is 0:48. After 8 h: 2 + 18 exp(-0.4) = 14.1.
            ("warm-up", ROOM, ["6 h 12 min", "00:48", "42 °C", "14.1 °C"]),
            ("warm-up", ROOM | {"outside": "-25"}, ["Never: this heater holds 15 °C"]),
            # 180 x 45 / 860 kWh, at 3 kW.
            ("reheat", STORE, ["3 h 08 min", "9.42 kWh", "It scalds"]),
            ("reheat", STORE | {"hot": "45"}, ["bacteria grow"]),
            ("reheat", STORE | {"heater": "50", "loss": "60"}, ["Never"]),
            # 9 hours of every 4 minutes are 135 pulses.
            ("pulses", {"start": "8:00", "end": "17:00", "on_s": "8", "every_s": "240"}, ["135", "18 min", "232 s"]),
            ("pulses", {"start": "23:59", "end": "0:01", "on_s": "50", "every_s": "80"}, ["2", "cut off after", "40 s"]),
            ("transformer", {"lamps": "7 x 12, 3 x 20", "rating": "150"}, ["144 VA", "96%", "200 VA"]),
            ("transformer", {"lamps": "5"}, ["5 VA", "20 VA"]),
            # 2 A over 10 m and 1 A over 20 m of 14.82 milliohm a metre.
            ("volts", RUN, ["11.41 V", "11.70 V", "2.00 A, 24 VA"]),
            ("volts", RUN | {"low": "11.5", "taps": "13"}, ["What brings every lamp above"]),
            ("volts", RUN | {"layout": "hub"}, ["11.41 V"]),
            ("volts", RUN | {"layout": "loop", "cable": "AWG 12"}, ["At the last lamp"]),
            ("contact", {"sort": "lock-holds", "escape": "1"}, ["normally closed", "Escape route", "The door is free"]),
            ("mode", {"on": "18:00", "off": "23:00", "now": "20:00", "does": "off", "returns": "waits"}, ["ON", "Switch it on by hand first", "OFF at 23:00"]),
            ("mode", {"on": "22:00", "off": "6:00", "now": "7:00", "does": "off", "returns": "computes"}, ["OFF", "takes the state of its program", "ON at 22:00"]),
        ]:  # fmt: skip
            with self.subTest(slug=slug, inputs=inputs):
                answer = self.ask(slug, **inputs)
                for text in texts:
                    self.assertContains(answer, text)

    def test_what_is_wrong_is_said_and_stays(self):
        for slug, inputs, text in [
            ("warm-up", ROOM | {"loss": "0"}, "greater than or equal"),
            ("reheat", STORE | {"hot": "120"}, "out of range"),
            (
                "pulses",
                {"start": "8:00", "end": "17:00", "on_s": "300", "every_s": "240"},
                "longer than the seconds on",
            ),
            ("transformer", {"lamps": "many"}, "cannot be read"),
            ("volts", RUN | {"cable": "3 mm²"}, "is no cable"),
            ("volts", RUN | {"between": ""}, "Fill this in"),
            ("volts", RUN | {"taps": "x"}, "numbers such as 13, 14"),
        ]:
            with self.subTest(slug=slug, inputs=inputs):
                answer = self.ask(slug, **inputs)
                self.assertContains(answer, text, status_code=422)

    def test_the_list_has_each_of_them(self):
        page = self.client.get(reverse("calculators"))
        for slug in ("mode", "warm-up", "reheat", "pulses", "transformer", "volts", "contact"):
            self.assertContains(page, reverse("calculator", args=[slug]))
