"""Names of files that come in and go out."""


def of_upload(name: str | None) -> str:
    """The bare name of an uploaded file: some browsers send the path with it."""
    return (name or "").replace("\\", "/").rsplit("/", 1)[-1][-200:]


def for_download(title: str) -> str:
    """A title as part of a file's name."""
    return "".join(c if c.isalnum() else "-" for c in title.lower())[:60].strip("-")
