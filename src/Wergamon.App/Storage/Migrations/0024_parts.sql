-- Lines of a plan that take a part of their file, or several files one after the other.
ALTER TABLE plan_item ADD COLUMN part TEXT;
ALTER TABLE plan_item ADD COLUMN appended TEXT;
