"""Studies: their data sets, codebooks and questions, who may see them, and how they are kept."""
