"""Telephone numbers and addresses, against numbers and examples that are published."""

from unittest import TestCase

import phonenumbers

from cadrin.core.people.contacts import (
    MOST_PHONES,
    is_email,
    phone_key,
    problems_with_phones,
    read_phone,
)


class Phones(TestCase):
    def test_a_number_of_every_country_is_read_and_kept_in_one_form(self) -> None:
        # the example numbers that the library has of each country's own numbering plan
        for region in sorted(phonenumbers.SUPPORTED_REGIONS):
            number = phonenumbers.example_number(region)
            assert number is not None
            with self.subTest(region):
                national = phonenumbers.format_number(
                    number, phonenumbers.PhoneNumberFormat.NATIONAL
                )
                kept = read_phone(
                    phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164), "GB"
                )
                assert kept is not None
                self.assertEqual(read_phone(kept, "GB"), kept)
                self.assertEqual(read_phone(national, region), kept)
                # ITU-T E.164: country code and number, 15 digits at most
                self.assertLessEqual(len(phone_key(kept)), 15)

    def test_what_is_no_number_is_refused_at_its_place(self) -> None:
        found = problems_with_phones(("01632 960001", "call me", "+44", "1" * 30), "GB")

        self.assertEqual([one.field for one in found], ["phones.1", "phones.2", "phones.3"])
        self.assertEqual(problems_with_phones(("222", "40117"), "GB"), ())
        many = problems_with_phones(("01632 960001",) * (MOST_PHONES + 1), "GB")
        self.assertEqual([(one.field, one.code) for one in many], [("phones", "input.too_many")])


class Addresses(TestCase):
    def test_are_those_of_rfc_5322_that_mail_takes(self) -> None:
        # RFC 5322, appendix A.1, with its domain: addresses that are written there as they are
        for address in ("jdoe@machine.example", "mary@example.net", "john.q.public@example.com"):
            with self.subTest(address):
                self.assertTrue(is_email(address))

    def test_what_is_none_is_told(self) -> None:
        # RFC 5322, 3.4.1: a dot-atom has no dot at its ends nor two together; one @ only
        for address in (
            "jdoe",
            "@example.com",
            "jdoe@",
            ".j@example.com",
            "j..d@example.com",
            "a@b@example.com",
        ):
            with self.subTest(address):
                self.assertFalse(is_email(address))
