"""Where a number becomes a word: every line that is drawn, with its source.

The browser gets verdicts, never these numbers.
"""

# Cells and categories stand out when p, with all of them allowed for, is below this (Fisher 1925).
MARKED = 0.05
# A cell that stands out does so strongly beyond this many standard errors (Friendly 1994, JASA
# 89:190).
STRONG = 4.0
# Checks of assumptions speak up below this p, whatever the level of the question.
NOTICED = 0.05
# The rule of five for expected counts, and the share of cells that may fall below it (Cochran 1954,
# Biometrics 10:417).
EXPECTED, SPARSE_SHARE, LEAST_EXPECTED = 5.0, 0.2, 1.0
# An event is common from this share on: odds ratios and ratios of shares part (Zhang & Yu 1998,
# JAMA 280:1690).
COMMON = 0.1
# Shares below this are read more easily out of a round number of people.
RARE = 0.01
# A log odds ratio per unit smaller than this is hard to read: a larger unit is offered, one that
# makes it this large.
TINY_STEP, READABLE_STEP = 0.02, 0.05
# More than this share set aside, or without an answer, asks for care.
MUCH_MISSING = 0.1
# A log ratio that moves by more than this, or a share by as many points, is worth saying.
MOVED, MOVED_SHARE, MOVED_RATIO = 0.1, 0.01, 0.05
# Fewer in a group, or answering in a stratum, says little.
TINY_GROUP, SMALL_GROUP = 10, 30
# Few with or without an answer: Wald's interval leaves no room (Brown, Cai & DasGupta 2001).
FEW_FOR_WALD = 15
# A skewness from which the median describes better than the mean.
SKEWED = 1.0
# Events for each coefficient (Peduzzi et al. 1996, J Clin Epidemiol 49:1373), and in a category.
ENOUGH_EVENTS, FEW_EVENTS = 10, 5
# A standard error inflated this much by the other variables (GVIF^(1/2df); Fox & Monette 1992).
INFLATED = 2.0
# One row that matters: Cook's distance (Cook 1977), and standard errors a coefficient moves by.
LARGE_COOK, LARGE_MOVE = 1.0, 1.0
# So many people per pattern, on average, make tests over patterns mean something.
PEOPLE_PER_PATTERN = 5.0
# Design degrees of freedom below which errors are unsure themselves (Korn & Graubard 1999, ch. 5).
FEW_DEGREES = 10
# A design effect from which intervals rest on far fewer answers than rows.
COSTLY_DESIGN = 2.0
# What a map must show of the inertia, and of a point, to be read alone (Greenacre 2017, ch. 11).
MAPPED, POORLY_MAPPED = 0.8, 0.5
# Titles that share so many of their words look like one question asked twice.
SAME_WORDS = 0.5
# Where more of the rows than this are like another in all but a column of counts, it may hold weights;
# looked at in so many cells at most.
REPEATED, MOST_CELLS = 0.5, 2_000_000
# So many coefficients for each degree of freedom of a design leave tests of them unsure (Korn &
# Graubard 1999, ch. 3).
CROWDED = 0.5
# An association weaker than this is a trifle however clear it is (half of what Cohen 1988 calls small), unless
# a ratio of shares is this far from 1.
TRIFLE, NO_TRIFLE = 0.05, 1.25
# A misfit smaller than this, in percentage points on average, matters little however clear it is.
SMALL_MISFIT = 0.01
