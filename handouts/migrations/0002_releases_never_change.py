"""A released card never changes: the database itself refuses an update."""

from django.db import migrations

FORBID = """
CREATE FUNCTION handouts_release_stands() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN RAISE EXCEPTION 'a released card never changes: release it again under the next number'; END $$;
CREATE TRIGGER release_stands BEFORE UPDATE ON handouts_release
FOR EACH ROW EXECUTE FUNCTION handouts_release_stands();
"""
ALLOW = "DROP TRIGGER release_stands ON handouts_release; DROP FUNCTION handouts_release_stands();"


class Migration(migrations.Migration):
    dependencies = [("handouts", "0001_initial")]

    operations = [migrations.RunSQL(FORBID, ALLOW)]
