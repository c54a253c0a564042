-- +goose Up
-- What was ticked on a carried sheet that came home, with the revision it was of.
create table ticked (
    id       uuid primary key,
    model_id uuid not null references models (id),
    revision integer not null,
    since    integer not null,            -- the sheet had only what changed since it; 0: all
    made_at  timestamptz not null,
    code     text not null,               -- as it came
    of       integer not null,            -- how many things the sheet had
    keyed    integer not null,
    read_back integer not null,
    seen     integer not null,
    open     text not null,               -- JSON list: what was not ticked, in words
    unique (model_id, code)               -- the same code again is the same sheet
);

-- +goose Down
drop table ticked;
