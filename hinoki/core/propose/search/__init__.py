"""The search for divisions: candidates judged by their sections, followed until every piece fits."""
