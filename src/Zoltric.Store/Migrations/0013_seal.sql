-- What a closed job held when it was closed, as a hash: whoever changes it afterwards shows.
ALTER TABLE job ADD COLUMN seal TEXT;
