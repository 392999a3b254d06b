"""A file that is sent: always on the disk, so that a book with its photos does not go through memory."""

from __future__ import annotations

from pathlib import Path

from django.core.files.uploadhandler import TemporaryFileUploadHandler
from rest_framework.parsers import MultiPartParser

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.http.endpoints import Endpoint


class Uploaded(Endpoint):
    """An endpoint that is sent a file."""

    parser_classes = [MultiPartParser]

    def initialize_request(self, request, *args, **kwargs):
        """Before anything reads the body."""
        request.upload_handlers = [TemporaryFileUploadHandler(request)]
        return super().initialize_request(request, *args, **kwargs)

    def uploaded(self) -> tuple[Path, str]:
        """Where the file lies, and what it is called."""
        file = self.request.FILES.get("file")
        if file is None:
            raise Inconsistent(say("Choose a file first."), field="file", value="")
        return Path(file.temporary_file_path()), file.name or "file"
