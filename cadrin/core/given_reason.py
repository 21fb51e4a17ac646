"""Why an operator does something that others will ask about."""

from cadrin.core.errors import Invalid

LONGEST_REASON = 200


def reason_given(reason: str) -> str:
    """Return a reason as it is kept. Raises Invalid where there is none, or a story.

    >>> reason_given("  works elsewhere now ")
    'works elsewhere now'
    """
    told = reason.strip()
    if not told:
        raise Invalid.of("input.blank", "reason")
    if len(told) > LONGEST_REASON:
        raise Invalid.of("input.too_long", "reason", most=LONGEST_REASON)
    return told
