"""Made-up people and recipes of a made-up practice, so that the first visit has something to open."""

EMAIL = "oona@quayside.example"
PASSWORD = "open the gate"  # noqa: S105 - printed by ./start; for the demo only
