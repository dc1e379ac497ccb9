"""What all of the application builds on: limits, the time, history of rows, processes and their turns, files, mails."""
