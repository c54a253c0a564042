-- +goose Up
-- Phones that were let in over the person's own network. Of a token only its hash
-- is kept; a phone that is taken back is gone.
create table phones (
    id         uuid primary key,
    name       text not null,
    token_hash bytea not null unique,
    made_at    timestamptz not null,
    seen_at    timestamptz not null
);

-- +goose Down
drop table phones;
