"""What is kept to be sent again is made anew, under the names of today.

An advice on record is never rewritten: those of before are read by `server.advice.kept`.
"""

from django.db import migrations

_EMPTY = "DELETE FROM advice_storedpage; DELETE FROM advice_storedanswer;"


class Migration(migrations.Migration):
    dependencies = [("advice", "0008_deeds")]
    operations = [migrations.RunSQL(_EMPTY, _EMPTY)]
