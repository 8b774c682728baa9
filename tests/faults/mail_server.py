"""A mail server that can be slow, or gone, or hear a mail and never say so."""

import socketserver
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from email import message_from_string
from email.message import Message


@dataclass
class Mailbox:
    """What came in, and how the server behaves: ``silent`` keeps it from answering a mail."""

    port: int = 0
    mails: list[Message] = field(default_factory=list)
    silent: threading.Event = field(default_factory=threading.Event)
    ended: threading.Event = field(default_factory=threading.Event)


class _Conversation(socketserver.StreamRequestHandler):
    """As much of RFC 5321 as a client needs that sends one mail after another."""

    def say(self, text: str) -> None:
        self.wfile.write(f"{text}\r\n".encode())

    def handle(self) -> None:
        mailbox: Mailbox = self.server.mailbox  # type: ignore[attr-defined]
        self.say("220 here")
        while line := self.rfile.readline():
            verb = line.strip().upper()
            if verb == b"DATA":
                self.say("354 go on")
                lines = []
                while (text := self.rfile.readline()) not in (b".\r\n", b""):
                    lines.append(text.decode())
                mailbox.mails.append(message_from_string("".join(lines)))
                if mailbox.silent.is_set():
                    mailbox.ended.wait()
                    return
                self.say("250 taken")
            elif verb == b"QUIT":
                self.say("221 bye")
                return
            else:
                self.say("250 well")


class _Server(socketserver.ThreadingTCPServer):
    daemon_threads = True
    allow_reuse_address = True


@contextmanager
def mail_server() -> Iterator[Mailbox]:
    with _Server(("127.0.0.1", 0), _Conversation) as server:
        mailbox = Mailbox(server.server_address[1])
        server.mailbox = mailbox  # type: ignore[attr-defined]
        threading.Thread(target=server.serve_forever, daemon=True).start()
        try:
            yield mailbox
        finally:
            mailbox.ended.set()
            server.shutdown()
