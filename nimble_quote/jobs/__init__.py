"""The background work: preparing recordings, making clips.

To add a job: a task in `tasks.py` that loads, calls the core, calls media, saves; it may be killed at any moment and run
again, so what it makes is written aside and renamed at the end.
"""
