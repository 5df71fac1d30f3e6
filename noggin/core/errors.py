"""What the core refuses, and how it says so.

NogginError
├── Refused          a value or a combination that cannot be; names the figure and the rule
│   └── OutOfRange   a single figure outside its limits
└── Unreadable       typed text that no reading of it makes sense of
"""


class NogginError(Exception):
    """Everything Noggin refuses on purpose."""


class Refused(NogginError, ValueError):
    """A figure that cannot be, with its dotted `name` and the `problem` in plain words."""

    def __init__(self, name: str, problem: str) -> None:
        super().__init__(f"{name}: {problem}")
        self.name = name
        self.problem = problem


class OutOfRange(Refused):
    """A single figure outside its limits."""


class Unreadable(NogginError, ValueError):
    """Typed text that cannot be read; the message says what would have been understood."""
