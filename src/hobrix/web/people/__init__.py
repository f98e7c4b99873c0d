"""People and what they share: invitations, who is signed in where, who is here, and who did what."""
