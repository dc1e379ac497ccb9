"""What the processes of the application have in common: their settings, their turns, the files and mails they write."""
