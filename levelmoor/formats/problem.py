"""What is wrong with a file, said so that it can be put right."""


class FileProblem(ValueError):
    """Names file, line, column (both from 1), what stands there and what would be right."""

    def __init__(self, file: str, line: int, column: int, found: str, expected: str) -> None:
        self.file, self.line, self.column = file, line, column
        self.found, self.expected = found, expected
        super().__init__(f"{file}: line {line}, column {column}: {found}; {expected}")

    def __reduce__(self) -> tuple[type, tuple[str, int, int, str, str], dict[str, object]]:
        """So that it goes from one process to another whole."""
        return type(self), (self.file, self.line, self.column, self.found, self.expected), self.__dict__


def shown(text: str) -> str:
    """A piece of a file in quotes, cut where it is long."""
    return f'"{text[:40]}…"' if len(text) > 41 else f'"{text}"'
