package tender.core.office;

import java.time.DateTimeException;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.wire.MalformedException;

/** What kind of text an attribute's value is; lists are parted by a comma and a blank. */
enum ValueKind {
    TEXT {
        @Override
        void check(String text) {
            if (text.length() > MAX_TEXT || text.chars().anyMatch(Character::isISOControl)) {
                throw new MalformedException("text", "", "at most " + MAX_TEXT + " printable characters");
            }
        }
    },
    WORD {
        @Override
        void check(String text) {
            if (!text.matches("[A-Za-z0-9][A-Za-z0-9.:+_-]{0,63}")) {
                throw new MalformedException("word", "", "one word of letters, digits and . : + _ -");
            }
        }
    },
    WORDS {
        @Override
        void check(String text) {
            Values.list(text).forEach(WORD::check);
        }
    },
    NUMBER {
        @Override
        void check(String text) {
            if (!text.matches("0|[1-9][0-9]{0,8}")) {
                throw new MalformedException("number", "", "a whole number");
            }
        }
    },
    YES_NO {
        @Override
        void check(String text) {
            if (!Set.of("yes", "no").contains(text)) {
                throw new MalformedException("yes-no", "", "yes or no");
            }
        }
    },
    PORT {
        @Override
        void check(String text) {
            Port.parse(text);
        }
    },
    TRANSPORT {
        @Override
        void check(String text) {
            if (!Set.of("udp", "tcp").contains(text)) {
                throw new MalformedException("transport", "", "udp or tcp");
            }
        }
    },
    PROTOCOL {
        @Override
        void check(String text) {
            Protocol.parse(text);
        }
    },
    ADDRESS {
        @Override
        void check(String text) {
            IpAddress.parse(text);
        }
    },
    ADDRESSES {
        @Override
        void check(String text) {
            Values.list(text).forEach(IpAddress::parse);
        }
    },
    NETWORKS {
        @Override
        void check(String text) {
            Values.list(text).forEach(Cidr::parse);
        }
    },
    INSTANT {
        @Override
        void check(String text) {
            try {
                Instant.parse(text);
            } catch (DateTimeException e) {
                throw new MalformedException("time", "", "a time like 2026-11-23T10:00:00Z");
            }
        }
    };

    private static final int MAX_TEXT = 200;

    /** Throws {@link MalformedException} where the text is no such value. */
    abstract void check(String text);

    /** Lists in values. */
    static final class Values {
        private static final int MAX_ITEMS = 512;

        private Values() {}

        static List<String> list(String text) {
            if (text.isBlank()) {
                return List.of();
            }
            String[] items = text.strip().split("\\s*,\\s*", MAX_ITEMS + 1);
            if (items.length > MAX_ITEMS) {
                throw new MalformedException("too-many", "", "at most " + MAX_ITEMS + " items");
            }
            return List.of(items);
        }
    }
}
