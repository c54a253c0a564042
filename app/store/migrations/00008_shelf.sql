-- +goose Up
-- A piece of the shelf is kept as a document that has it alone, with revisions like a model's.
alter table models add column shelf text not null default ''; -- kind of piece; empty: it is a model
-- What a model has of the shelf, and its memory.
alter table summaries add column holds text not null default '';
-- The memory in which it is, and of which transmitter; empty where that is not known.
alter table summaries add column place text not null default '';

-- +goose Down
alter table summaries drop column place;
alter table summaries drop column holds;
delete from revisions where model_id in (select id from models where shelf <> '');
delete from summaries where model_id in (select id from models where shelf <> '');
delete from models where shelf <> '';
alter table models drop column shelf;
