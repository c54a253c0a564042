-- +goose Up
-- A model that is taken out of the yard stays, so that it can be put back.
alter table models add column removed_at timestamptz;

-- What the hands did, kept by name with its model: a script.
create table recordings (
    id       uuid primary key,
    model_id uuid not null references models (id),
    name     text not null,
    made_at  timestamptz not null,
    exact    boolean not null,            -- played from power-on it gives what was seen
    script   text not null,
    unique (model_id, name)
);

-- What on a gamepad moves which control, for each transmitter by its name.
create table gamepads (
    transmitter text primary key,
    mapping     text not null             -- JSON, as the page has it
);

-- Undo takes a page's own newest edit back, which may lie below that of another
-- page: the stacks are lists of revisions, the newest last.
alter table revisions add column undo_stack text not null default '[]';
alter table revisions add column redo_stack text not null default '[]';
with recursive stack (model_id, number, which, at, depth) as (
    select r.model_id, r.number, w.which, case w.which when 'undo' then r.undo_top else r.redo_top end, 1
      from revisions r join models m on m.id = r.model_id and m.head = r.number, (values ('undo'), ('redo')) w (which)
    union all
    select s.model_id, s.number, s.which, case s.which when 'undo' then r.undo_below else r.redo_below end, s.depth + 1
      from stack s join revisions r on r.model_id = s.model_id and r.number = s.at where s.depth < 200
), lists as (
    select model_id, number, which, json_agg(at order by depth desc)::text as list from stack where at > 0 group by model_id, number, which
)
update revisions r
   set undo_stack = coalesce((select list from lists l where l.model_id = r.model_id and l.number = r.number and l.which = 'undo'), '[]'),
       redo_stack = coalesce((select list from lists l where l.model_id = r.model_id and l.number = r.number and l.which = 'redo'), '[]')
  from models m where m.id = r.model_id and m.head = r.number;
alter table revisions drop column undo_top, drop column undo_below, drop column redo_top, drop column redo_below;

-- The demo is now brought in a model at a time.
insert into deeds (name, done_at) select 'demo model Stoat', done_at from deeds where name = 'demo yard';

-- +goose Down
alter table revisions add column undo_top integer not null default 0, add column undo_below integer not null default 0,
    add column redo_top integer not null default 0, add column redo_below integer not null default 0;
alter table revisions drop column undo_stack, drop column redo_stack;
drop table gamepads;
drop table recordings;
delete from models where removed_at is not null and not exists (select 1 from revisions where model_id = models.id);
alter table models drop column removed_at;
