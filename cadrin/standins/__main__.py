"""Run the stand-ins.

``python -m cadrin.standins --port 8001 --mail-port 8002 --setup var/standins.json --memory
var/standins``
"""

import argparse
import os
from pathlib import Path

import uvicorn

from cadrin.standins.app import application
from cadrin.standins.mail import MailServer
from cadrin.standins.setup import setup_in


def main() -> None:
    os.umask(0o077)  # what it remembers is nobody else's business
    parser = argparse.ArgumentParser(prog="cadrin.standins", description=__doc__)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument(
        "--mail-port", type=int, help="where mail is taken; without it there is no mail server"
    )
    parser.add_argument("--setup", type=Path, required=True)
    parser.add_argument("--memory", type=Path, required=True)
    given = parser.parse_args()
    mail = MailServer() if given.mail_port else None
    if mail:
        mail.listening(given.mail_port).start()
    uvicorn.run(
        application(setup_in(given.setup), given.memory, mail),
        host="127.0.0.1",  # nobody else's business
        port=given.port,
        log_level="warning",
        access_log=False,
        timeout_graceful_shutdown=1,
    )


if __name__ == "__main__":
    main()
