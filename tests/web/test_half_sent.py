"""Half-sent bodies behind the reverse proxy that ships: eight of them do not stop a ninth reader."""

import os
import re
import socket
import subprocess
import sys
import tempfile
import time
from contextlib import ExitStack
from pathlib import Path
from urllib.error import HTTPError
from urllib.request import Request, urlopen

from django.conf import settings
from django.db import connection
from django.test import SimpleTestCase, tag

ROOT = Path(settings.BASE_DIR)
PATIENCE_S = 60


def free_port():
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return found.getsockname()[1]


def answers(port, path="/health/live/", timeout=10):
    with urlopen(f"http://127.0.0.1:{port}{path}", timeout=timeout) as answer:
        return answer.status


@tag("alone")
class HalfSent(SimpleTestCase):
    databases = {"default"}

    def run_until_stopped(self, *command, **options):
        process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, **options)
        self.addCleanup(process.wait, 20)
        self.addCleanup(process.terminate)
        return process

    def until_it_answers(self, port):
        deadline = time.monotonic() + PATIENCE_S
        while True:
            try:
                return answers(port)
            except OSError:
                if time.monotonic() > deadline:
                    raise
                time.sleep(0.1)

    def proxy_before(self, upstream):
        """nginx with the configuration that ships, on a port of its own and without TLS; its port."""
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        os.chmod(folder.name, 0o755)  # noqa: S103 - nginx works as another user
        home, port = Path(folder.name), free_port()
        shipped = (ROOT / "deploy" / "nginx.conf").read_text().replace("127.0.0.1:8000", f"127.0.0.1:{upstream}")
        shipped = re.sub(r"\n *ssl_.*", "", shipped).replace("listen 443 ssl;", f"listen 127.0.0.1:{port};")
        shipped = re.sub(r"server \{\n  listen 80;.*?\n\}\n", "", shipped, flags=re.S)
        shipped = shipped.replace("/etc/nginx/open-gate-proxy.conf", str(ROOT / "deploy" / "open-gate-proxy.conf"))
        shipped = shipped.replace("/var/log/nginx/", f"{home}/")
        temporary = "".join(
            f"{kind}_temp_path {home}/{kind};\n" for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
        )
        (home / "nginx.conf").write_text(
            f"{'user root;' if os.geteuid() == 0 else ''}\npid {home}/pid;\nerror_log {home}/error.log;\ndaemon off;\n"
            f"events {{ worker_connections 64; }}\nhttp {{\n{temporary}{shipped}\n}}\n"
        )
        nginx = subprocess.run([str(ROOT / "bin" / "nginx")], capture_output=True, text=True, check=True).stdout.strip()
        self.run_until_stopped(nginx, "-p", str(home), "-c", str(home / "nginx.conf"))
        self.log = home / "open-gate.log"
        return port

    def test_eight_half_sent_bodies_do_not_stop_a_ninth_reader(self):
        upstream, of = free_port(), connection.settings_dict
        environment = os.environ | {
            "DATABASE_URL": f"postgres://{of['USER']}:{of['PASSWORD']}@{of['HOST']}:{of['PORT']}/{of['NAME']}",
            "DJANGO_SETTINGS_MODULE": "opengate.settings.test",
            "OPEN_GATE_BIND": f"127.0.0.1:{upstream}",
            "OPEN_GATE_WORKERS": "1",
        }
        gunicorn = Path(sys.executable).with_name("gunicorn")
        self.run_until_stopped(str(gunicorn), "-c", "deploy/gunicorn.py", "opengate.wsgi", env=environment, cwd=ROOT)
        self.until_it_answers(upstream)
        port = self.proxy_before(upstream)
        self.until_it_answers(port)
        with ExitStack() as half_sent:
            for _ in range(8):
                body = socket.create_connection(("127.0.0.1", port), timeout=10)
                half_sent.callback(body.close)
                body.sendall(
                    b"POST /account/sign-in/ HTTP/1.1\r\nHost: localhost\r\nContent-Length: 5000\r\n"
                    b"Content-Type: application/x-www-form-urlencoded\r\n\r\nlogin=half"
                )
            started = time.monotonic()
            self.assertEqual(answers(port), 200)
            self.assertLess(time.monotonic() - started, 8)  # a body would be waited for 15 s
        with self.assertRaises(HTTPError) as refused:  # by its length, before a byte of it is read
            large = Request(
                f"http://127.0.0.1:{port}/recipes/import/", data=b"x", headers={"Content-Length": "9000000"}
            )
            urlopen(large, timeout=10)  # noqa: S310 - loopback
        self.assertEqual(refused.exception.code, 413)
        answers(port, "/people/12345/")
        self.assertNotIn("12345", self.log.read_text())
