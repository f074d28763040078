"""What can be wrong with a document or an edit as a whole."""

from __future__ import annotations


class DesignError(ValueError):
    """Root. code: stable; the message says what, where and what would help."""

    code = "bad-design"


class UnreadableDocument(DesignError):
    """It is not a design in the open format."""

    code = "unreadable-document"

    def __init__(self, message: str, in_words: str | None = None) -> None:
        super().__init__(message)
        self.in_words = in_words or message
        """The same in words of the design, without a path."""


class TooLarge(DesignError):
    """The file would be larger than one that can be opened."""

    code = "export-failed"


class EditRefused(DesignError):
    """The edit does not fit the document; the document stays as it is. index: which edit of the batch."""

    code = "edit-refused"

    def __init__(self, message: str, index: int) -> None:
        super().__init__(message)
        self.index = index
