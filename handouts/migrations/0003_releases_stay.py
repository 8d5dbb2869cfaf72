"""A released card is not taken away either, but with everything else of an erased person."""

from django.db import migrations

FORBID = """
CREATE FUNCTION handouts_release_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF current_setting('open_gate.erasing', true) = 'on' THEN RETURN OLD; END IF;
  RAISE EXCEPTION 'a released card is not taken away: withdraw its links, or release the next number';
END $$;
CREATE TRIGGER release_stays BEFORE DELETE ON handouts_release
FOR EACH ROW EXECUTE FUNCTION handouts_release_stays();
"""
ALLOW = "DROP TRIGGER release_stays ON handouts_release; DROP FUNCTION handouts_release_stays();"


class Migration(migrations.Migration):
    dependencies = [("handouts", "0002_releases_never_change")]

    operations = [migrations.RunSQL(FORBID, ALLOW)]
