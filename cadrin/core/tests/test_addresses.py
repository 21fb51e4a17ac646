"""Where Cadrin never speaks to a controller: its own machine, and what is nobody's or everybody's."""

from ipaddress import ip_address
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.addresses import Place, place_of, problem_with_places
from cadrin.core.errors import Invalid


def is_refused(ip: str) -> bool:
    return problem_with_places("http://x", [ip_address(ip)]) is not None


class Addresses(TestCase):
    def test_a_host_and_a_port_are_read(self) -> None:
        for text, place in (
            ("http://10.1.2.3", Place("10.1.2.3", 80)),
            ("https://gate.example:8443/controller", Place("gate.example", 8443)),
            ("http://[fd12::7]:8080", Place("fd12::7", 8080)),
        ):
            self.assertEqual(place_of(text), place)

    def test_what_is_no_address_or_says_more_is_refused(self) -> None:
        for text in (
            "", "gate", "ftp://gate.example", "http://", "http://u:p@gate.example", "http://gate.example/?x=1",
            "http://gate.example/#x", "http://gate.example:0", "http://gate.example:99999", "http://ga te.example",
            "file:///etc/passwd", "http://[::1", f"http://{'a' * 250}.example",
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(Invalid):
                place_of(text)

    def test_special_addresses_of_rfc_6890_and_those_of_clouds_are_refused(self) -> None:
        for ip in (
            "127.0.0.1", "127.8.8.8", "0.0.0.0", "169.254.169.254", "169.254.1.1", "224.0.0.1", "240.0.0.1",
            "255.255.255.255", "100.100.100.200", "::1", "::", "fe80::1", "ff02::1", "fd00:ec2::254",
        ):  # fmt: skip
            with self.subTest(ip):
                self.assertTrue(is_refused(ip))

    def test_written_as_ipv6_they_are_the_same(self) -> None:
        for ip in (
            "::ffff:127.0.0.1",
            "::ffff:169.254.169.254",
            "2002:7f00:1::",
            "64:ff9b::7f00:1",
        ):
            with self.subTest(ip):
                self.assertTrue(is_refused(ip))

    def test_devices_on_private_and_public_networks_are_not(self) -> None:
        for ip in (
            "10.1.2.3",
            "192.168.7.9",
            "172.16.0.4",
            "93.184.216.34",
            "fd12:3456::7",
            "2001:4860::1",
        ):
            with self.subTest(ip):
                self.assertFalse(is_refused(ip))

    def test_one_of_several_is_enough(self) -> None:
        both = [ip_address("10.1.2.3"), ip_address("127.0.0.1")]
        self.assertIsNotNone(problem_with_places("http://x", both))

    @given(st.text(max_size=40))
    def test_any_text_is_an_address_or_is_refused(self, text: str) -> None:
        try:
            place = place_of(f"http://{text}")
        except Invalid:
            return
        self.assertTrue(place.host and 0 < place.port < 65_536)
