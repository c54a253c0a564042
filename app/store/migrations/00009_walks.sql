-- +goose Up
-- A walk on the bench: its steps as they were worked out for a revision, and who signed it.
create table walks (
    id uuid primary key,
    number bigserial not null, -- their order, whatever a clock does
    model_id uuid not null references models (id) on delete cascade,
    revision integer not null,
    whole boolean not null, -- every control to each of its ends
    made_at timestamptz not null,
    steps text not null, -- JSON: what has to be safe, and the steps
    counts text not null, -- JSON: of each step, how many parts there are to look at
    script text not null, -- the run of all steps
    signed_at timestamptz,
    who text not null default '',
    battery text not null default '',
    note text not null default '',
    hash text not null default '' -- of the document that the signature stands for
);
create index walks_of_model on walks (model_id, number);
-- What was seen at a part of a step: the last that was said counts.
create table walk_ticks (
    walk_id uuid not null references walks (id) on delete cascade,
    step integer not null,
    part text not null, -- devices/port; rest: of all other parts
    seen text not null, -- as, other, nothing
    note text not null default '',
    at timestamptz not null,
    primary key (walk_id, step, part)
);

-- +goose Down
drop table walk_ticks;
drop table walks;
