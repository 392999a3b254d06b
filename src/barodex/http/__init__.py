"""How the API speaks: the base of every endpoint, what it reads and writes, how a failure is told, who may call. No rules of the trade, no models."""
