"""Files that were uploaded and never stored do not stay for ever."""

from datetime import timedelta

from django.db.models.functions import Now

from server.base.incident import isolated
from server.files.kept_file import drop_file
from server.imports import staging
from server.imports.models import BUSY, FileImport

# The list of files says so.
KEPT = timedelta(days=30)


def drop_forgotten() -> int:
    """Drop imports of more than `KEPT` ago that stored nothing, and the files of those that stored
    a part; how many there were."""
    # The machine's clock: that of a demo farm may stand still or run.
    old = FileImport.unscoped.filter(made_at__lt=Now() - KEPT, pieces__isnull=False)
    dropped = 0
    for row in old.exclude(state__in=BUSY).defer("sample", "refused").distinct():
        with isolated(f"dropping the file of import {row.pk}"):
            staging.drop_staging(row.pk)
            if row.batch_id is None:
                row.delete()
            else:
                drop_file(row)
            dropped += 1
    return dropped
