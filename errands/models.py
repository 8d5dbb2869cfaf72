"""Long work done beside the requests: what was asked, by whom, and what came of it."""

from datetime import timedelta

from django.db import models
from django.utils import timezone

from accounts.scope import PracticeRow

WAITING, DOING, DONE, FAILED, STOPPED = "waiting", "doing", "done", "failed", "stopped"
_ACTIVE = (WAITING, DOING)
#: Work that has been going on for so long was left by a worker that is gone.
LEFT_AFTER = timedelta(minutes=3)


class Errand(PracticeRow):
    """One piece of long work. Of each kind a user has one at a time: asking again lets the one before go.

    `args`: plain values; `result`: what came of it, plain values; `problem`: the sentence when nothing could.
    """

    kind = models.CharField(max_length=20)
    args = models.JSONField(default=dict)
    state = models.CharField(max_length=8, default=WAITING)
    result = models.JSONField(null=True)
    problem = models.TextField(blank=True)
    asked_by = models.ForeignKey("accounts.User", on_delete=models.CASCADE, related_name="+")
    asked_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-pk",)
        constraints = (
            models.UniqueConstraint(
                fields=("asked_by", "kind"), condition=models.Q(state__in=_ACTIVE), name="one_errand_at_a_time"
            ),
        )

    def __str__(self):
        return f"{self.kind}, {self.state}"

    @property
    def is_over(self):
        return self.state not in _ACTIVE or timezone.now() - self.asked_at > LEFT_AFTER

    @property
    def is_done(self):
        return self.state == DONE

    @property
    def seconds(self):
        return round(((self.ended_at or timezone.now()) - self.asked_at).total_seconds())
