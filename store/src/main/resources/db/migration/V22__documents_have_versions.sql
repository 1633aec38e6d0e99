-- JSON that rows keep is written as {"version": 1, "value": …} from here on; rows from before hold the value alone.
create function document_value(document jsonb) returns jsonb
language sql immutable as $$
    select case
        when jsonb_typeof(document) = 'object' and document ? 'version' and document ? 'value' then document -> 'value'
        else document end
$$;

create or replace function gateway_behind(recorded jsonb, device jsonb) returns text[]
language sql immutable as $$
    select array(
        select u ->> 'behind'
        from jsonb_array_elements(
            case when jsonb_array_length(document_value(recorded)) > 0 then document_value(recorded)
            else coalesce(document_value(device) -> 'uplinks', '[]'::jsonb) end) as u
        where u ->> 'behind' is not null)
$$;
