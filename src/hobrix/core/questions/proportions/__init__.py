"""The Proportions lens: how much more common, where?"""
