package tender.service.http;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.UUID;
import java.util.function.BiFunction;
import java.util.function.Function;
import tender.api.Page;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.store.jdbc.Slice;

/** Paging by cursor: a list is asked for one more than wanted, and the last shown one's key is the cursor. */
public final class Cursor {
    private static final UUID END = UUID.fromString("ffffffff-ffff-ffff-ffff-ffffffffffff");

    private Cursor() {}

    /** A page of a list that rises by name. */
    public static <R, T> Answer byName(
            Call call,
            BiFunction<String, Integer, List<R>> list,
            Function<R, String> key,
            Function<List<R>, List<T>> render) {
        int limit = limit(call);
        List<R> rows = list.apply(call.query("after").map(Cursor::decode).orElse(""), limit + 1);
        return page(rows, limit, key, render);
    }

    /** A page of a list that falls by id, newest first. */
    public static <R, T> Answer newestFirst(
            Call call,
            BiFunction<UUID, Integer, List<R>> list,
            Function<R, UUID> key,
            Function<List<R>, List<T>> render) {
        int limit = limit(call);
        List<R> rows = list.apply(
                call.query("after")
                        .map(Cursor::decode)
                        .map(t -> Call.uuid("after", t))
                        .orElse(END),
                limit + 1);
        return page(rows, limit, row -> key.apply(row).toString(), render);
    }

    /** A page of a list that rises by name, or is sorted by one of its columns where the caller asks for that. */
    public static <R, T> Answer byName(
            Call call,
            Map<String, String> columns,
            Function<Slice<String>, List<R>> list,
            Function<R, String> key,
            Function<List<R>, List<T>> render) {
        Optional<Answer> sorted = sorted(call, columns, list, render);
        return sorted.orElseGet(
                () -> byName(call, (after, limit) -> list.apply(Slice.after(after, limit)), key, render));
    }

    /** A page of a list that falls by id, or is sorted by one of its columns where the caller asks for that. */
    public static <R, T> Answer newestFirst(
            Call call,
            Map<String, String> columns,
            Function<Slice<UUID>, List<R>> list,
            Function<R, UUID> key,
            Function<List<R>, List<T>> render) {
        Optional<Answer> sorted = sorted(call, columns, list, render);
        return sorted.orElseGet(
                () -> newestFirst(call, (before, limit) -> list.apply(Slice.after(before, limit)), key, render));
    }

    /** The cursor of a sorted list is the number of rows that were given. */
    private static <K, R, T> Optional<Answer> sorted(
            Call call,
            Map<String, String> columns,
            Function<Slice<K>, List<R>> list,
            Function<List<R>, List<T>> render) {
        return call.query("sort").map(word -> {
            if (!columns.containsKey(word.startsWith("-") ? word.substring(1) : word)) {
                throw new MalformedException(
                        "column",
                        "sort",
                        "the list is sorted by " + String.join(", ", new TreeSet<>(columns.keySet())));
            }
            int limit = limit(call);
            long before =
                    call.query("after").map(Cursor::decode).map(Cursor::number).orElse(0L);
            List<R> rows = list.apply(Slice.sorted(columns, word, before, limit + 1));
            return page(rows, limit, row -> Long.toString(before + limit), render);
        });
    }

    /** A page of a list in an order of its own, each row known by a number from 1. */
    public static <R, T> Answer byNumber(
            Call call,
            BiFunction<Long, Integer, List<R>> list,
            Function<R, Long> key,
            Function<List<R>, List<T>> render) {
        int limit = limit(call);
        long after = call.query("after").map(Cursor::decode).map(Cursor::number).orElse(0L);
        return page(list.apply(after, limit + 1), limit, row -> key.apply(row).toString(), render);
    }

    private static long number(String text) {
        if (!text.matches("[0-9]{1,18}")) {
            throw new MalformedException("cursor", "after", "is not a cursor of this list");
        }
        return Long.parseLong(text);
    }

    private static <R, T> Answer page(
            List<R> rows, int limit, Function<R, String> key, Function<List<R>, List<T>> render) {
        boolean more = rows.size() > limit;
        List<R> shown = more ? rows.subList(0, limit) : rows;
        Optional<String> next = more ? Optional.of(encode(key.apply(shown.get(limit - 1)))) : Optional.empty();
        return Answer.ok(new Page<>(render.apply(shown), next));
    }

    /** How many rows are asked for: 1 to {@link Page#MAX_LIMIT}, {@link Page#DEFAULT_LIMIT} where nothing is said. */
    public static int limit(Call call) {
        return call.query("limit")
                .map(text -> {
                    if (!text.matches("[0-9]{1,4}")) {
                        throw new MalformedException("number", "limit", "a whole number is expected");
                    }
                    return Fields.range("limit", Integer.parseInt(text), 1, Page.MAX_LIMIT);
                })
                .orElse(Page.DEFAULT_LIMIT);
    }

    /** A cursor that says after which key to go on; opaque to callers. */
    public static String encode(String key) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(key.getBytes(StandardCharsets.UTF_8));
    }

    /** @throws tender.core.wire.MalformedException where it is no cursor of ours */
    public static String decode(String cursor) {
        try {
            return Call.plain("after", new String(Base64.getUrlDecoder().decode(cursor), StandardCharsets.UTF_8));
        } catch (IllegalArgumentException e) {
            throw new MalformedException("cursor", "after", "is not a cursor of this list");
        }
    }
}
