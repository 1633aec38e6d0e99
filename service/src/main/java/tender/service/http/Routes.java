package tender.service.http;

import java.util.Arrays;
import java.util.List;

/** The routes of one subject. */
public interface Routes {
    List<Route> routes();

    /** All of them, in order. */
    static List<Route> of(Routes... subjects) {
        return Arrays.stream(subjects).flatMap(s -> s.routes().stream()).toList();
    }
}
