"""PacketText texts in many styles: fields in stored units, the base named or asked for, contradictions kept."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.seeds.packettext import FIELDS, read_packet
from growing.tests.packets import PACKETS


class Packets(TestCase):
    def test_each_text_gives_its_fields(self) -> None:
        self.assertGreaterEqual(len(PACKETS), 40)
        for text, wanted, base, twice in PACKETS:
            with self.subTest(text):
                found = read_packet(text)
                self.assertEqual({r.field for r in found.readings}, set(wanted))
                for field, value in wanted.items():
                    expected = value if isinstance(value, str | tuple) else (value, value)
                    self.assertEqual(found.value(field), expected, field)
                self.assertEqual((found.base, tuple(found.conflicts)), (base, twice))

    def test_contradictions_keep_both_readings_and_their_words(self) -> None:
        found = read_packet("Start indoors 6-8 weeks before last frost. Start indoors 4 weeks before last frost.")
        both = found.conflicts["weeks"]
        self.assertEqual([r.value for r in both], [(6.0, 8.0), (4.0, 4.0)])
        self.assertIn("6-8 weeks", both[0].text)
        bases = read_packet("6 weeks before last frost, that is 8 weeks before transplanting").conflicts["base"]
        self.assertEqual({r.value for r in bases}, {"last_frost", "transplanting"})

    def test_what_is_not_read_is_shown(self) -> None:
        self.assertEqual(read_packet("Lovely in salads. 1 cm deep").unread, "lovely in salads")

    @given(st.text(max_size=300))
    def test_no_text_breaks_it(self, text: str) -> None:
        found = read_packet(text)
        self.assertLessEqual({r.field for r in found.readings}, set(FIELDS))
