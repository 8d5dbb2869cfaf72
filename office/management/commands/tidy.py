"""What is over goes: sessions, errands, previews on paper, found ways, logs older than each practice keeps them."""

from datetime import timedelta
from io import StringIO

from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.utils import timezone

from accounts.models import Practice
from accounts.scope import within
from bench.models import FoundWay
from errands.models import Errand
from handouts.models import Paper
from office.actions import tidy_log
from office.models import Invitation

#: What is kept so long though nobody asks for it any more.
ERRANDS, PREVIEWS, WAYS, INVITATIONS = (timedelta(days=days) for days in (7, 7, 30, 90))


class Command(BaseCommand):
    help = "Take away what is over; run it every night."

    def handle(self, *args, **options):
        now, gone = timezone.now(), {}
        for practice in Practice.objects.all():
            with within(practice):
                over = {
                    "errands": Errand.objects.filter(asked_at__lt=now - ERRANDS),
                    "previews": Paper.objects.filter(release=None, made_at__lt=now - PREVIEWS),
                    "ways": FoundWay.objects.filter(found_at__lt=now - WAYS),
                    "invitations": Invitation.objects.filter(expires_at__lt=now - INVITATIONS),
                }
                for what, rows in over.items():
                    gone[what] = gone.get(what, 0) + rows.delete()[0]
            gone["log entries"] = gone.get("log entries", 0) + tidy_log(practice)
        call_command("clearsessions")
        call_command("axes_reset_logs", age=30, verbosity=0, stdout=StringIO())
        self.stdout.write(", ".join(f"{count} {what}" for what, count in gone.items()) + " are gone")
