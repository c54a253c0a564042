-- +goose Up
create table models (
    id         uuid primary key,
    head       integer not null,          -- number of the newest revision
    created_at timestamptz not null
);

-- Append only: what was acknowledged is never changed or taken away.
create table revisions (
    model_id   uuid not null references models (id),
    number     integer not null,          -- from 1
    made_at    timestamptz not null,
    page       text not null,             -- the page that made it
    edit       text not null,             -- the page's own id of the edit
    kind       text not null check (kind in ('import', 'edit', 'undo', 'redo')),
    patch      text not null,             -- JSON Patch that made it; '[]' for an import
    inverse    text not null,             -- JSON Patch that takes it back
    words      text not null,             -- what changed
    document   text not null,             -- JSON; text, since jsonb reorders
    -- Undo and redo are two stacks of revisions, kept as linked lists: the top
    -- after this revision, and for the revision that is a top what lies below.
    undo_top   integer not null,          -- the revision that an undo would take back, 0 for none
    undo_below integer not null,
    redo_top   integer not null,          -- the undo that a redo would take back, 0 for none
    redo_below integer not null,
    primary key (model_id, number),
    unique (model_id, page, edit)
);

-- What is done once per database.
create table deeds (
    name    text primary key,
    done_at timestamptz not null
);

-- +goose Down
drop table deeds;
drop table revisions;
drop table models;
