package tender.service.http;

import io.javalin.http.HandlerType;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * One row of the one table of routes: what it answers, to whom, from what request. The OpenAPI document and the access
 * check both come from here. {@code roles} empty means open to everyone; {@code fresh} asks for a sign-in of the last minutes.
 */
public record Route(
        HandlerType verb,
        String path,
        Set<Role> roles,
        String summary,
        Optional<Class<?>> request,
        Optional<Class<?>> answer,
        boolean paged,
        boolean fresh,
        Handler handler) {
    /** Does the work of a call. */
    @FunctionalInterface
    public interface Handler {
        Answer handle(Call call);
    }

    public static final Set<Role> OPEN = Set.of();

    /** The same for those alone who signed in, or proved anew who they are, within the last minutes. */
    public Route afresh() {
        return new Route(verb, path, roles, summary, request, answer, paged, true, handler);
    }

    /** The same list, which can be sorted by columns of these names. */
    public Route sortedBy(Set<String> columns) {
        String words =
                summary + "; ?sort= " + String.join(", ", new TreeSet<>(columns)) + ", with - before it the last first";
        return new Route(verb, path, roles, words, request, answer, paged, fresh, handler);
    }

    /** One thing, or a file where {@code answer} is null. */
    public static Route get(String path, Set<Role> roles, String summary, Class<?> answer, Handler handler) {
        return new Route(
                HandlerType.GET,
                path,
                roles,
                summary,
                Optional.empty(),
                Optional.ofNullable(answer),
                false,
                false,
                handler);
    }

    /** A list, paged by cursor. */
    public static Route page(String path, Set<Role> roles, String summary, Class<?> item, Handler handler) {
        return new Route(
                HandlerType.GET, path, roles, summary, Optional.empty(), Optional.of(item), true, false, handler);
    }

    /** A call that makes or does something; {@code request} and {@code answer} are null where there is none. */
    public static Route post(
            String path, Set<Role> roles, String summary, Class<?> request, Class<?> answer, Handler handler) {
        return new Route(
                HandlerType.POST,
                path,
                roles,
                summary,
                Optional.ofNullable(request),
                Optional.ofNullable(answer),
                false,
                false,
                handler);
    }

    /** Changes one thing; asks for the version that was read. */
    public static Route patch(
            String path, Set<Role> roles, String summary, Class<?> request, Class<?> answer, Handler handler) {
        return new Route(
                HandlerType.PATCH,
                path,
                roles,
                summary,
                Optional.of(request),
                Optional.of(answer),
                false,
                false,
                handler);
    }

    /** Ends one thing. */
    public static Route delete(String path, Set<Role> roles, String summary, Handler handler) {
        return new Route(
                HandlerType.DELETE, path, roles, summary, Optional.empty(), Optional.empty(), false, false, handler);
    }
}
