"""The plan: the document a maker edits, its older versions, what differs between two, and its variants."""
