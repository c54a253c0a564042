-- +goose Up
-- Sheets that were carried: what there was to tick on each, in order, so that ticks
-- come home also where a later program writes sheets in another way.
create table carried (
    model_id uuid not null references models (id),
    revision integer not null,
    since    integer not null,
    mark     integer not null,
    made_at  timestamptz not null,
    things   text not null,
    primary key (model_id, revision, since, mark)
);

-- +goose Down
drop table carried;
