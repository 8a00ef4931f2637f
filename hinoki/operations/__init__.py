"""What can be asked of Hinoki, one file a station: a typed request, a typed result.

Worker processes, the web interface and its document are made from the declarations (`registry`); a new operation is a function
under `@operation` in one of these files, and nothing else.
"""
