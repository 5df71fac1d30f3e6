"""What the core refuses, and how it says so.

NogginError
├── Refused          a value or a combination that cannot be; names the figure and the rule
│   └── OutOfRange   a single figure outside its limits
└── Unreadable       typed text that no reading of it makes sense of
"""


class NogginError(Exception):
    """Everything Noggin refuses on purpose."""

    @property
    def problem(self) -> str:
        """What is wrong in plain words, to stand beside the figure."""
        return str(self)


class Refused(NogginError, ValueError):
    """A figure that cannot be, with its dotted `name` and the `problem` in plain words."""

    def __init__(self, name: str, problem: str) -> None:
        super().__init__(f"{name}: {problem}")
        self.name = name
        self._problem = problem

    @property
    def problem(self) -> str:
        """The problem, without the figure's name."""
        return self._problem


class OutOfRange(Refused):
    """A single figure outside its limits."""


class Unreadable(NogginError, ValueError):
    """Typed text that cannot be read; the message says what would have been understood."""


Wanted = tuple[str, str]
"""What was expected, and what would be read as it."""


def unlike(text: str, wanted: Wanted) -> Unreadable:
    """The error for text that is not what was expected.

    >>> print(unlike("1/50O", ("a time", "1/500")))
    ‘1/50O’ is not a time. Try 1/500
    """
    kind, example = wanted
    typed = text.strip()
    return Unreadable(f"‘{typed}’ is not {kind}. Try {example}" if typed else f"is empty. Try {example}")
