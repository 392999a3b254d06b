"""Accounts over HTTP: the session and its settings, people, one-time links, passwords."""

from .people import Join, NewLink, OwnSessions, Password, People, SomebodyElse, TheirSessions
from .session import DEMO_PERSON, DemoEndpoint, Session, SessionEndpoint, session_of

__all__ = [
    "DEMO_PERSON",
    "DemoEndpoint",
    "Join",
    "NewLink",
    "OwnSessions",
    "Password",
    "People",
    "Session",
    "SessionEndpoint",
    "SomebodyElse",
    "TheirSessions",
    "session_of",
]
