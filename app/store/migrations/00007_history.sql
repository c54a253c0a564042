-- +goose Up
-- The newest document, and what can be taken back of it, stand with the model. Of the revisions
-- some have their whole document; what the others were is made of it by their patches.
alter table models add column document text;
alter table models add column undo_stack text not null default '[]';
alter table models add column redo_stack text not null default '[]';
alter table models add column packed integer not null default 0; -- revisions looked at, to be made small
update models set document = r.document, undo_stack = r.undo_stack, redo_stack = r.redo_stack
    from revisions r where r.model_id = models.id and r.number = models.head;
alter table models alter column document set not null;
alter table revisions drop column undo_stack;
alter table revisions drop column redo_stack;
alter table revisions alter column document drop not null;

-- +goose Down
-- +goose StatementBegin
do $$ begin
    raise exception 'whole documents can be made of patches by a program alone: nothing goes back from here';
end $$;
-- +goose StatementEnd
