#!/usr/bin/python3
# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""A bench that does not keep to the protocol. What it does wrong is named by the environment: FINCH_HOSTILE."""
import os
import socket
import sys
import time

path = sys.argv[sys.argv.index("--socket") + 1]
how = os.environ.get("FINCH_HOSTILE", "silent")
if how == "never_listens":
    time.sleep(60)
server = socket.socket(socket.AF_UNIX)
server.bind(path)
server.listen(2)
client, _ = server.accept()
lines = client.makefile("rb")
HELLO = b'{"is":"hello","version":3,"bench":"hostile"}\n'
ANSWERS = {
    "garbage": b"burning, wait a moment\n",
    "number": b'{"is":5}\n',
    "unknown": b'{"is":"exploded","job":1}\n',
    "null_share": b'{"is":"progress","job":1,"share":null}\n',
    "text_share": b'{"is":"progress","job":1,"share":"half"}\n',
    "endless_time": b'{"is":"burned","job":1,"time_s":1e308}\n',
    "overflow": b'{"is":"burned","job":1,"time_s":1e400}\n',
    "bad_utf8": b'{"is":"fault","job":1,"code":"\xff","message":"x"}\n',
    "deep": b'{"is":' + b"[" * 100000 + b"]" * 100000 + b"}\n",
    "half_line": b'{"is":"burned","job":1,"ti',
    "few_depths": b'{"is":"depths","probe":1,"depths_um":[1],"within_um":2}\n',
    "deep_depths": b'{"is":"depths","probe":1,"depths_um":[1,-5],"within_um":2}\n',
    "endless_drive": b'{"is":"driven","drive":1,"time_s":-1}\n',
    "no_base64": b'{"is":"photo","shot":1,"picture_base64":"***"}\n',
}
lines.readline()
if how == "wrong_version":
    client.sendall(HELLO.replace(b"3,", b"7,"))
elif how == "no_hello":
    client.sendall(b'{"is":"started","job":1,"time_s":1}\n')
elif how != "mute":
    client.sendall(HELLO)
request = lines.readline()
if how == "other_job":
    client.sendall(b'{"is":"burned","job":99,"time_s":1}\n{"is":"burned","job":1,"time_s":2}\n')
elif how == "twice":
    client.sendall(b'{"is":"burned","job":1,"time_s":2}\n{"is":"burned","job":1,"time_s":2}\n')
elif how == "dies":
    os._exit(3)
elif how == "will_not_stop":
    client.sendall(b'{"is":"started","job":1,"time_s":100}\n')
    while True:
        time.sleep(0.05)
        client.sendall(b'{"is":"progress","job":1,"share":0.1,"at":"A1"}\n')
elif how == "endless_line":
    try:
        while True:
            client.sendall(b"x" * (1 << 20))
    except OSError:
        pass
elif how in ANSWERS:
    client.sendall(ANSWERS[how])
time.sleep(60)
