-- +goose Up
-- What happened to a model besides its revisions, in the order in which it was noted, whatever a clock does.
create table events (
    id uuid primary key, -- of the page that noted it: the same sent again is no second
    number bigserial not null,
    model_id uuid not null references models (id) on delete cascade,
    revision integer not null, -- the newest then
    made_at timestamptz not null,
    kind text not null, -- note, exchange, run, fault, value, walk, sheet
    part text not null default '', -- devices/port; empty: none, or the transmitter
    label text not null default '', -- what that was called then
    what text not null default '',
    was text not null default '',
    becomes text not null default '',
    says text not null default '',
    minutes integer not null default 0,
    battery text not null default '',
    walk_id uuid references walks (id) on delete cascade
);
create index events_of_model on events (model_id, revision, number);
-- what was signed, and what came home, before there was a list of what happened
insert into events (id, model_id, revision, made_at, kind, what, says, battery, walk_id)
select gen_random_uuid(), model_id, revision, signed_at, 'walk', 'Tried on the bench, signed by ' || who, note, battery, id
from walks where signed_at is not null order by number;
insert into events (id, model_id, revision, made_at, kind, what)
select gen_random_uuid(), model_id, revision, made_at, 'sheet',
    'Sheet of revision ' || revision || ' ticked: ' || keyed || ' keyed, ' || read_back || ' read back, ' || seen || ' seen, of ' || "of"
from ticked order by made_at;
-- a walk of some devices alone, what was noted when it was begun, and what the display read and the part did
alter table walks add column began bigint not null default 0; -- the number of the newest event then
alter table walks add column devices text not null default '[]'; -- JSON: ids; none: all
alter table walk_ticks add column does text not null default ''; -- a word of a diagnosis
alter table walk_ticks add column reads text not null default '';
-- A photograph of a part at a step.
create table walk_photos (
    walk_id uuid not null references walks (id) on delete cascade,
    step integer not null,
    part text not null,
    kind text not null, -- its media type
    picture bytea not null,
    primary key (walk_id, step, part)
);
-- How far a model is on the bench, as a program worked it out, for the list of models.
create table trials (
    model_id uuid primary key references models (id) on delete cascade,
    number integer not null, -- of the newest revision
    happened bigint not null, -- the sum of the numbers of its events
    program text not null,
    stands text not null -- JSON
);

-- +goose Down
drop table trials;
drop table walk_photos;
alter table walk_ticks drop column reads;
alter table walk_ticks drop column does;
alter table walks drop column devices;
alter table walks drop column began;
drop table events;
