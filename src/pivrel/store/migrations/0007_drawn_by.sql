-- A picture is kept for the revision that it shows and for the code that drew it.
ALTER TABLE project_picture ADD COLUMN drawn_by TEXT NOT NULL DEFAULT '';
