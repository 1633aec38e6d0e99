package tender.core.profile;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/** The directives that OpenVPN 2.6 knows: one table, {@code openvpn-2.6.txt} beside this class. */
public final class OpenVpnDirectives {
    private static final Map<String, Shape> ALL = read();

    /**
     * How a directive may be written.
     *
     * @param fewest and most words after the name; of a few directives either, and nothing between
     * @param between whether a number between the two will do
     * @param inline whether its content may stand in a block
     * @param inConnection whether it may stand in a {@code <connection>} block
     * @param perClient whether it belongs into a server's file for one client alone
     */
    public record Shape(
            String name,
            int fewest,
            int most,
            boolean between,
            boolean inline,
            boolean inConnection,
            boolean perClient) {
        boolean takes(int words) {
            return words == fewest || words == most || between && words > fewest && words < most;
        }
    }

    private OpenVpnDirectives() {}

    public static Optional<Shape> named(String name) {
        return Optional.ofNullable(ALL.get(name));
    }

    public static Collection<Shape> all() {
        return ALL.values();
    }

    private static Map<String, Shape> read() {
        Map<String, Shape> out = new HashMap<>();
        try (BufferedReader in = new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(OpenVpnDirectives.class.getResourceAsStream("openvpn-2.6.txt")),
                StandardCharsets.US_ASCII))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                if (line.startsWith("#")) {
                    continue;
                }
                String[] w = line.split(" ");
                String[] words = w[1].split("\\.\\.|\\|");
                String most = words[words.length - 1];
                out.put(
                        w[0],
                        new Shape(
                                w[0],
                                Integer.parseInt(words[0]),
                                most.equals("*") ? Integer.MAX_VALUE : Integer.parseInt(most),
                                !w[1].contains("|"),
                                w[2].equals("inline"),
                                w[3].equals("connection"),
                                w[4].equals("client-file")));
            }
        } catch (IOException e) {
            throw new IllegalStateException("the table of directives cannot be read", e);
        }
        return Map.copyOf(out);
    }
}
