"""The net under every change of the stored data: databases of earlier days, and what the application said of them then.

``python -m tests.net.make NAME`` keeps a database of today beside its answers; nothing in this folder is ever made anew for an
earlier day. :mod:`tests.net.test_net` brings each of them up to date as a workshop's own would be, and asks the same again.
"""
