"""The guide as it is built and kept: steps and the blocks that they come in, how a level is set and a plug tightened.

What has been done is the run; a guide knows no acts.
"""

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import POUR_TOLERANCE, Conditions, Field, Job, Procedure, Step, torque_words

__all__ = ["POUR_TOLERANCE", "Conditions", "Field", "Job", "Procedure", "Step", "build", "torque_words"]
