-- +goose Up
-- What the list of models says of each, worked out once for a revision and a program: it is
-- made anew where either is another, and may be thrown away at any time.
create table summaries (
    model_id uuid primary key references models (id),
    number   integer not null,
    program  text not null,
    model    text not null,               -- JSON, as the list has it
    still    text not null                -- JSON, the picture at rest; empty where there is none
);

-- +goose Down
drop table summaries;
