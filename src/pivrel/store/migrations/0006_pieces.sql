-- What follows the first piece of long bytes, so that they are written and deleted in many short transactions: `blob`
-- holds the first piece, and says that they are whole. Pieces without it belong to a write that was cut off.
CREATE TABLE piece (
    sha256 TEXT NOT NULL,
    number INTEGER NOT NULL,
    data   BLOB NOT NULL,
    PRIMARY KEY (sha256, number)
) STRICT;
