"""How a PIN is typed under threat: the door opens, and an alarm is raised that nobody
sees there.
"""

from enum import StrEnum


class DuressRule(StrEnum):
    """How somebody under threat changes their PIN: the door opens, and an alarm is raised that
    nobody sees there.
    """

    NONE = "none"
    LAST_DIGIT_UP = "last_digit_up"
    FIRST_DIGIT_UP = "first_digit_up"

    def changed(self, pin: str, by: int = 1) -> str:
        """Return a PIN as it is typed under duress, 0 following 9; ``by`` -1 is the way back.

        >>> DuressRule.LAST_DIGIT_UP.changed("481509"), DuressRule.FIRST_DIGIT_UP.changed("581509", -1)
        ('481500', '481509')
        """
        match self:
            case DuressRule.LAST_DIGIT_UP:
                return f"{pin[:-1]}{(int(pin[-1]) + by) % 10}"
            case DuressRule.FIRST_DIGIT_UP:
                return f"{(int(pin[0]) + by) % 10}{pin[1:]}"
            case DuressRule.NONE:
                return pin
