"""What is wrong with a file, said so that it can be put right."""


class FileProblem(ValueError):
    """Names file, line, column (both from 1), what stands there and what would be right."""

    DOS = ("add", "check", "choose", "download", "leave", "send", "sweep", "type", "use", "write")
    """How an `expected` begins that says what to do; any other names what would be right."""

    def __init__(self, file: str, line: int, column: int, found: str, expected: str) -> None:
        self.file, self.line, self.column = file, line, column
        self.found, self.expected = found, expected
        super().__init__(f"{file}: line {line}, column {column}: {self.told}")

    @property
    def told(self) -> str:
        """What is wrong and what would be right, without the place."""
        if self.expected.startswith('"'):  # it names what stands there itself
            return self.expected
        return f"{self.found}; {'' if self.expected.startswith(self.DOS) else 'expected '}{self.expected}"

    def __reduce__(self) -> tuple[type, tuple[str, int, int, str, str], dict[str, object]]:
        """So that it goes from one process to another whole."""
        return type(self), (self.file, self.line, self.column, self.found, self.expected), self.__dict__


def shown(text: str) -> str:
    """A piece of a file in quotes, cut where it is long."""
    return f'"{text[:40]}…"' if len(text) > 41 else f'"{text}"'
