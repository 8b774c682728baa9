"""The one typed place for what differs between machines; read from the environment."""

import os
from dataclasses import dataclass
from ipaddress import IPv4Network, IPv6Network, ip_network
from pathlib import Path
from typing import Self

ROOT = Path(__file__).resolve().parent.parent


LOOPBACK_NAMES = frozenset({"127.0.0.1", "localhost", "::1", "[::1]"})


class DemoInTheOpen(ValueError):
    """The demo's door would open to others; nothing starts."""


@dataclass(frozen=True)
class Config:
    """Settings of one running instance.

    ``demo`` opens one-click sign-in for the demo's people; it only ever answers on loopback, and
    never where cookies are marked for HTTPS or the service answers to another machine's name.
    ``proxies`` are the networks of our own proxies, which are believed when they say whom they
    speak for. ``secure`` marks cookies for HTTPS; on for anything but loopback. Mail goes to
    ``mail_host``, or into files in ``mail_folder`` where there is none. ``weather_url`` is a
    weather service's address; empty: none is asked.
    """

    secret_key: str
    demo: bool
    debug: bool
    secure: bool
    allowed_hosts: tuple[str, ...]
    proxies: tuple[IPv4Network | IPv6Network, ...]
    db_host: str
    db_port: int
    db_name: str
    db_user: str
    db_password: str
    web_dist: Path
    weather_url: str
    mail_host: str
    mail_port: int
    mail_user: str
    mail_password: str
    mail_tls: bool
    mail_from: str
    mail_folder: Path

    def __post_init__(self) -> None:
        if not self.demo:
            return
        elsewhere = sorted(set(self.allowed_hosts) - LOOPBACK_NAMES)
        if self.secure or elsewhere:
            why = f"FURROW_HOSTS names {elsewhere[0]}" if elsewhere else "FURROW_SECURE is 1"
            raise DemoInTheOpen(
                "FURROW_DEMO=1 lets anybody sign in and is for this machine alone, but "
                f"{why}. Leave FURROW_DEMO out, or set FURROW_SECURE=0 and loopback names."
            )

    @classmethod
    def from_environment(cls) -> Self:
        """Read ``FURROW_*``.

        Raises
        ------
        KeyError
            When the secret key is missing: there is no built-in one.
        ValueError
            When a proxy's address is none.
        DemoInTheOpen
        """
        env = os.environ
        return cls(
            secret_key=env["FURROW_SECRET_KEY"],
            demo=env.get("FURROW_DEMO", "") == "1",
            debug=env.get("FURROW_DEBUG", "") == "1",
            secure=env.get("FURROW_SECURE", "1") == "1",
            allowed_hosts=tuple(env.get("FURROW_HOSTS", "127.0.0.1,localhost").split(",")),
            proxies=tuple(
                ip_network(part.strip())
                for part in env.get("FURROW_PROXIES", "").split(",")
                if part.strip()
            ),
            db_host=env.get("FURROW_DB_HOST", "127.0.0.1"),
            db_port=int(env.get("FURROW_DB_PORT", "5432")),
            db_name=env.get("FURROW_DB_NAME", "furrow"),
            db_user=env.get("FURROW_DB_USER", "furrow"),
            db_password=env.get("FURROW_DB_PASSWORD", ""),
            web_dist=Path(env.get("FURROW_WEB_DIST", str(ROOT / "web" / "dist"))),
            weather_url=env.get("FURROW_WEATHER_URL", ""),
            mail_host=env.get("FURROW_MAIL_HOST", ""),
            mail_port=int(env.get("FURROW_MAIL_PORT", "587")),
            mail_user=env.get("FURROW_MAIL_USER", ""),
            mail_password=env.get("FURROW_MAIL_PASSWORD", ""),
            mail_tls=env.get("FURROW_MAIL_TLS", "1") == "1",
            mail_from=env.get("FURROW_MAIL_FROM", "Even Furrow <even-furrow@localhost>"),
            mail_folder=Path(env.get("FURROW_MAIL_FOLDER", str(ROOT / ".furrow" / "mail"))),
        )
