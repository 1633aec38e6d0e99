package tender.api;

import java.util.List;
import java.util.Optional;

/** A page of a list; {@code next} is the cursor of the following page, empty at the end. */
public record Page<T>(List<T> items, Optional<String> next) {
    public static final int DEFAULT_LIMIT = 50;
    public static final int MAX_LIMIT = 200;
}
