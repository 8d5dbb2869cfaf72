"""Other ways to do an ingredient's job: what the jobs are, what could take over, and whether the whole still holds."""
