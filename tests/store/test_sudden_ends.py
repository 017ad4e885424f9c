"""What is ended by a signal, or pulled out."""

import signal
import subprocess
import sys
import time

from roundstone.store import Workshop, keeping
from tests.store.test_keeping import ROOT, Filed


class SuddenEnds(Filed):
    """The server as a process of its own, ended however it happens; what was acknowledged is there."""

    def serve(self, *arguments: str) -> subprocess.Popen[str]:
        line = [sys.executable, "-m", "roundstone", *arguments, "--data", str(self.path), "--port", "0"]
        return subprocess.Popen(line, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)

    def told(self, process: subprocess.Popen[str]) -> str:
        assert process.stdout is not None
        for said in process.stdout:
            if "http://" in said:
                return said
        assert process.stderr is not None
        return process.stderr.read()

    def ended(self, process: subprocess.Popen[str]) -> None:
        process.wait(10)
        for pipe in (process.stdout, process.stderr):
            assert pipe is not None
            pipe.close()

    def test_signals_leave_one_whole_file_and_the_demo_keeps_off_what_is_not_its_own(self) -> None:
        for number in (signal.SIGTERM, signal.SIGHUP):
            server = self.serve("serve")
            self.assertIn("Round Stone is at", self.told(server))
            second = self.serve("serve")
            self.assertIn("is open in another Round Stone: http://127.0.0.1:", self.told(second))
            self.ended(second)
            server.send_signal(number)
            self.ended(server)
            self.assertEqual(server.returncode, 0)
            self.assertFalse(self.path.with_name("workshop.sqlite-wal").exists())
        self.filled().close()
        notes = self.path.with_name("workshop.sqlite-notes.txt")
        notes.write_text("mine")
        for fresh in ((), ("--fresh",)):
            refused = self.serve("demo", *fresh)
            self.assertIn("workshop of your own", self.told(refused))
            self.ended(refused)
        self.assertEqual((keeping.counts(self.path)["pours"], notes.read_text()), (2, "mine"))

    def test_killed_between_taps_nothing_acknowledged_is_lost(self) -> None:
        """A small version of what `bench.faults` does a hundred times."""
        code = (
            "import sys; from pathlib import Path; from datetime import datetime, UTC\n"
            "from roundstone.store import Workshop; from tests.samples import seen, next_id\n"
            "from uuid import uuid4\n"
            "w = Workshop(Path(sys.argv[1]))\n"
            "for n in range(100000):\n"
            "    e = seen(n / 100, 'emulsion').model_copy(update={'id': uuid4()})\n"
            "    w.pours.append('p1', [e], datetime.now(UTC)); print(e.id, flush=True)\n"
        )
        self.filled().close()
        for _ in range(3):
            process = subprocess.Popen(
                [sys.executable, "-c", code, str(self.path)], cwd=ROOT, stdout=subprocess.PIPE, text=True
            )
            assert process.stdout is not None
            acknowledged = [process.stdout.readline().strip() for _ in range(20)]
            time.sleep(0.02)
            process.kill()
            acknowledged += [line.strip() for line in process.stdout if len(line) == 37]
            process.stdout.close()
            process.wait(10)
            workshop = Workshop(self.path)
            there = {str(e.id) for e in workshop.pours.get("p1").events}
            workshop.close()
            self.assertLessEqual(set(acknowledged), there)
