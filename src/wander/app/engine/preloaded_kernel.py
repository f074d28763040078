"""What the process that workers with the kernel split off from has done before the first: everything loaded, while it stands back for the screen."""

import os

from wander.app.engine.processes import loading
from wander.app.engine.worker_start import KERNEL_YIELDS

os.nice(KERNEL_YIELDS)
with loading():
    import wander.app.engine.preloaded
    import wander.core.design.exact  # noqa: F401
