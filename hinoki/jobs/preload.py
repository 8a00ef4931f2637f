"""What workers read before they begin, once for all of them; while it is read, an end of the server is not missed."""

import os
from importlib import import_module

from hinoki.core.parent_process import SERVER, Watched
from hinoki.jobs.forkserver import HEAVY
from hinoki.jobs.threads import ONE_EACH, one_thread_each

watched = Watched(int(os.environ[SERVER]))
if os.environ.get(ONE_EACH):
    one_thread_each()
for name in HEAVY:
    import_module(name)
watched.stop()  # no thread may run where processes are copied
