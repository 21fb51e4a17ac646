"""What a UID says of itself (ISO/IEC 14443-3)."""

RANDOM_FIRST_BYTE = 0x08
CASCADE_TAG = 0x88
LENGTHS_BYTES = (4, 7, 10)


def is_random(uid: bytes) -> bool:
    """Say whether a card makes up its UID anew each time: such a one is nobody's.

    >>> is_random(bytes.fromhex("08A1B2C3")), is_random(bytes.fromhex("04A1B2C3"))
    (True, False)
    """
    return len(uid) == 4 and uid[0] == RANDOM_FIRST_BYTE


def is_cut_from_a_longer_one(uid: bytes) -> bool:
    """Say whether four bytes are only the first part of a longer UID: they begin with the cascade
    tag.

    >>> is_cut_from_a_longer_one(bytes.fromhex("8804A1B2"))
    True
    """
    return len(uid) == 4 and uid[0] == CASCADE_TAG
