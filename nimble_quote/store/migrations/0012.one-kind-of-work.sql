-- depends: 0011.exports-by-themselves

-- Exports wait, go on, fail and are stopped in the one table that all long work has; what was made stays theirs.
drop index work_live;
alter table work drop constraint work_check;
alter type work_kind rename to work_kind_before;
create type work_kind as enum ('prepare', 'align', 'transcribe', 'fetch', 'export');
alter table work
    alter column kind type work_kind using kind::text::work_kind,
    add column export_id bigint unique references export on delete cascade,
    add column target text,
    add column waited boolean not null default true;
drop type work_kind_before;
comment on column work.target is 'what it is done to: live work of a kind on one target is one';
comment on column work.waited is 'whether somebody waits for it; what nobody waits for is done beside that, in a lane of its own';

update work set target = coalesce('recording ' || recording_id, 'fetch ' || id);
insert into work (kind, export_id, target, state, stage, progress, attempt, stop_requested, problem, tries, created_at,
        started_at, finished_at)
    select 'export', id, concat_ws(' ', 'quote', quote_id, destination, revision),
        (case state when 'cancelled' then 'stopped' else state::text end)::work_state,
        case state when 'done' then 'Done' else 'Waiting' end, progress, attempt, cancel_requested, problem, tries, created_at,
        coalesce(started_at, created_at), finished_at
    from export order by created_at, id;
alter table work
    alter column target set not null,
    add check ((recording_id is not null) = (kind in ('prepare', 'align', 'transcribe'))),
    add check ((export_id is not null) = (kind = 'export'));
create unique index work_live on work (kind, target) where state in ('queued', 'running');

drop trigger export_changed on export;
drop index export_live;
alter table export
    add column made_at timestamptz;
update export set made_at = finished_at where state = 'done';
alter table export
    drop column state,
    drop column attempt,
    drop column progress,
    drop column cancel_requested,
    drop column started_at,
    drop column finished_at,
    drop column problem,
    drop column tries,
    add check (num_nulls(file_path, facts, findings, made_at) in (0, 4));
drop type export_state;

create function tell_work_changed() returns trigger language plpgsql as $$
begin
    perform pg_notify('nimble_quote_changed', json_build_object(
        'kind', case new.kind when 'export' then 'export' else 'work' end, 'id', coalesce(new.export_id, new.id))::text);
    return null;
end
$$;
drop trigger work_changed on work;
create trigger work_changed after insert or update on work for each row execute function tell_work_changed();

-- Waiting exports are queued anew, as work.
delete from procrastinate_jobs where task_name = 'export-clip';
