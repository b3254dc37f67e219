"""The rules of the job: pure functions on frozen dataclasses.

Nothing here reads a clock, a file, a table or a request: whatever a rule needs is passed in.
"""
