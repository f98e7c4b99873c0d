"""What is kept. Sources are immutable; what people can change carries a version."""

import uuid

from django.conf import settings
from django.db import models


class Role(models.TextChoices):
    """What a member of a study may do, from most to least."""

    OWNER = "owner"
    ANALYST = "analyst"
    READER = "reader"


class StudyDesign(models.TextChoices):
    """How the data came about; decides later which measures have a meaning."""

    UNKNOWN = "", "not said"
    CROSS_SECTIONAL = "cross_sectional", "cross-sectional survey"
    COHORT = "cohort", "cohort"
    CASE_CONTROL = "case_control", "case–control"
    TRIAL = "trial", "trial"


class Removable(models.Model):
    """Deleted things stay for undo; ``present`` leaves them out."""

    deleted_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        abstract = True


class Study(Removable):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=200)
    created_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["-created_at"]

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="memberships")
    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships"
    )
    role = models.CharField(max_length=10, choices=Role.choices)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["study", "user"], name="one_role_each")]

    def __str__(self) -> str:
        return f"{self.user} is {self.role} of {self.study}"


class DataSet(Removable):
    """One file that was brought in, or what was made of other data sets. ``is_draft`` until its preview
    has been confirmed."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="datasets")
    name = models.CharField(max_length=200)
    # What is made of other data sets has no file.
    file = models.FileField(upload_to="%Y/%m", blank=True)
    file_name = models.CharField(max_length=255, blank=True)
    size = models.PositiveBigIntegerField(default=0)
    sha256 = models.CharField(max_length=64, blank=True)
    # How the file was read; what does not apply to its kind is empty.
    delimiter = models.CharField(max_length=1, default="", blank=True)
    encoding = models.CharField(max_length=20, default="", blank=True)
    decimal_comma = models.BooleanField(default=False)
    sheet = models.CharField(max_length=255, default="", blank=True)
    header_row = models.PositiveIntegerField(default=1)
    sheets = models.JSONField(default=list)
    # A column that seems to hold counts, to ask about while the data set is a draft.
    counts_candidate = models.CharField(max_length=255, default="", blank=True)
    remarks = models.JSONField(default=list)
    rows = models.PositiveIntegerField()
    noun_one = models.CharField(max_length=40, default="row")
    noun_many = models.CharField(max_length=40, default="rows")
    counted_by = models.JSONField(default=dict)
    study_design = models.CharField(
        max_length=20, choices=StudyDesign.choices, default=StudyDesign.UNKNOWN, blank=True
    )
    # In a case–control study the variable that tells cases from controls; blank when not said.
    case_status = models.CharField(max_length=255, default="", blank=True)
    # The variable that tells matched sets; blank when not said.
    matched_on = models.CharField(max_length=255, default="", blank=True)
    # Which rows are of one case: a core Cases as JSON.
    cases = models.JSONField(default=dict, blank=True)
    # How it was made of others (a core Recipe's kind), the variable that says which data set a row is
    # from, and why it could not be made again when they last changed.
    recipe = models.CharField(max_length=20, default="", blank=True)
    pooled_by = models.CharField(max_length=255, default="", blank=True)
    trouble = models.TextField(default="", blank=True)
    findings = models.JSONField(default=list, blank=True)
    # Under which terms it may be used, what is to be said with everything made of it, and whether
    # terms bind it: its own, or those of what it is made from.
    terms = models.TextField(default="", blank=True)
    note = models.CharField(max_length=300, default="", blank=True)
    is_bound = models.BooleanField(default=False)
    # Who lends it, as what, and which version of that this is.
    lender = models.CharField(max_length=100, default="", blank=True)
    offer = models.CharField(max_length=200, default="", blank=True)
    offer_version = models.CharField(max_length=100, default="", blank=True)
    # Where the rows stay that are not kept here: a place, a table in it, and what was found there when its
    # codebook was read (``linking.Found`` as JSON).
    place = models.CharField(max_length=100, default="", blank=True)
    table = models.CharField(max_length=255, default="", blank=True)
    linked = models.JSONField(default=dict, blank=True)
    is_draft = models.BooleanField(default=True)
    # The data set whose file this one's took the place of, and what changed by that.
    replaces = models.ForeignKey(
        "self", on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    report = models.JSONField(null=True, blank=True)
    imported_at = models.DateTimeField(auto_now_add=True)
    imported_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    # Raised by every change to the data set or its codebook: answers are cached under it.
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["imported_at"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_linked(self) -> bool:
        """Whether its rows stay where they are."""
        return self.place != ""

    @property
    def noted(self) -> str:
        """Its note with its name; what is made of several has the names of those in it."""
        return self.note if self.recipe or not self.note else f"{self.name}: {self.note}"

    @property
    def state(self) -> str:
        """Names the data and codebook as they are now."""
        return state_of(self.id, self.version)


def state_of(dataset: uuid.UUID, version: int) -> str:
    """Names data and codebook at a version."""
    return f"{dataset}/{version}"


class Acceptance(models.Model):
    """A person accepted the terms of a data set: which text, and when."""

    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="acceptances")
    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="acceptances"
    )
    text = models.TextField()
    accepted_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["accepted_at"]

    def __str__(self) -> str:
        return f"{self.user} accepted the terms of {self.dataset}"


class Lender(models.Model):
    """An institution that lends data sets, and the address of its service. Only the operator names
    them: no other address is ever asked."""

    name = models.CharField(max_length=100, unique=True)
    url = models.CharField(max_length=500)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class Place(models.Model):
    """A folder or database file whose tables may be linked. Only the operator names them: nothing else on
    this machine is ever read."""

    name = models.CharField(max_length=100, unique=True)
    where = models.CharField(max_length=1000)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class KeptPatterns(models.Model):
    """Distinct combinations of some variables of a linked data set, as an engine counted them when its files
    had a mark. ``data`` is an Arrow file; those of single variables are what the codebook is read from."""

    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="patterns")
    mark = models.CharField(max_length=64)
    # What was counted, by name; what is counted in bands with those.
    names = models.JSONField()
    is_codebook = models.BooleanField(default=False)
    rows = models.PositiveIntegerField()
    size = models.PositiveBigIntegerField()
    data = models.BinaryField()
    used_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["rows"]

    def __str__(self) -> str:
        return f"{', '.join(self.names)} of {self.dataset}"


class MadeFrom(models.Model):
    """A data set that another is made from, and the state it had then."""

    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="made_from")
    source = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="rests_on_it")
    position = models.PositiveIntegerField()
    state = models.CharField(max_length=60)

    class Meta:
        ordering = ["position"]

    def __str__(self) -> str:
        return f"{self.dataset} is made from {self.source}"


class RecipeVersion(models.Model):
    """How a data set is made of others, in order of change. The last active one holds; undone ones
    stay until another takes their place."""

    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="recipes")
    # A core Recipe as JSON.
    recipe = models.JSONField()
    is_active = models.BooleanField(default=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"how {self.dataset} is made"


class CodebookEntry(models.Model):
    """A variable as it was first understood; ``PreparationStep`` says what was made of it since.
    Its values are in ``Blob``."""

    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="entries")
    position = models.PositiveIntegerField()
    name = models.CharField(max_length=255)
    # A core Variable as JSON.
    variable = models.JSONField()
    reason = models.TextField(default="", blank=True)
    # Looks of the core as JSON.
    to_look_at = models.JSONField(default=list)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["dataset", "name"], name="one_entry_per_variable")
        ]

    def __str__(self) -> str:
        return self.name


class Blob(models.Model):
    """The source column of one variable, compressed. In a table of its own, so that listing
    a codebook does not read it."""

    entry = models.OneToOneField(
        CodebookEntry, on_delete=models.CASCADE, primary_key=True, related_name="blob"
    )
    sha256 = models.CharField(max_length=64)
    data = models.BinaryField()

    def __str__(self) -> str:
        return f"values of {self.entry.name}"


class PreparationStep(models.Model):
    """One change people made to a data set's codebook, in order. Undone steps stay, inactive,
    until another step takes their place."""

    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="steps")
    # A core Step as JSON.
    step = models.JSONField()
    words = models.TextField()
    is_active = models.BooleanField(default=True)
    # What it did: answers and categories of the first variable it touches, before and after.
    effect = models.JSONField(default=dict)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.words


class NamedSubset(models.Model):
    """A subset rule kept under a name, to be used in any question of the study."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="subsets")
    name = models.CharField(max_length=100)
    # A core Subset as JSON.
    rule = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["study", "name"], name="one_subset_per_name")
        ]

    def __str__(self) -> str:
        return self.name


class Standing(models.TextChoices):
    """What a question is worth to those who asked it."""

    DRAFT = "draft"
    KEPT = "kept"
    DROPPED = "dropped"


class SavedQuestion(Removable):
    """A question in a line of questions; ``parent`` is the question it follows from."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="questions")
    dataset = models.ForeignKey(DataSet, on_delete=models.CASCADE, related_name="questions")
    parent = models.ForeignKey(
        "self", on_delete=models.SET_NULL, null=True, blank=True, related_name="follow_ups"
    )
    position = models.FloatField()
    title = models.CharField(max_length=200, default="", blank=True)
    note = models.TextField(default="", blank=True)
    standing = models.CharField(max_length=10, choices=Standing.choices, default=Standing.DRAFT)
    # A core Question as JSON; may be unfinished (no outcome yet). The fingerprint tells it apart.
    question = models.JSONField()
    fingerprint = models.CharField(max_length=64, default="", blank=True)
    # The short form of its answer, and the state of the data set that it is about.
    headline = models.TextField(default="", blank=True)
    answered_for = models.CharField(max_length=60, default="", blank=True)
    # What the answer rests on (``dependence.mark_of``): as long as that is so, other changes leave it.
    rests_on = models.CharField(max_length=64, default="", blank=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["position"]

    def __str__(self) -> str:
        return self.title or str(self.id)
