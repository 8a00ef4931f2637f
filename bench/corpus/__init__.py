"""Models that Hinoki's own choices are judged by: made by code, in families that makers bring, each with what is wanted of it.

Nothing in `hinoki` may be tuned to one of them: whoever changes a choice changes it for a reason that holds for all.
"""
