"""The rules of the job: immutable values and pure functions. No interface, no store, no files, no pixels."""
