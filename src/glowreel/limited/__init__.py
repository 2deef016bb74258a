"""Work on what strangers sent, in processes with limits of memory, time, files and output, which can be killed.

Nothing else decodes, draws or parses such files. `server` is a part of the program that forks one child for each piece
of work; `client` asks for it; `tasks` is the table of what can be asked for, with the limits of each in `limits`.
"""
