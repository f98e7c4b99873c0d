"""The job itself: data, statistics, questions and answers. Knows no Django, HTTP, HTML or colour."""
