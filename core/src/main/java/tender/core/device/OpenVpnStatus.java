package tender.core.device;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import tender.core.wire.MalformedException;

/** An OpenVPN server's status file of version 2 (commas) or 3 (tabs), as its manual documents them. */
public final class OpenVpnStatus {
    private static final int MAX_CLIENTS = 20_000;

    /** Somebody connected; {@code received} and {@code sent} as the server counts them. */
    public record Client(
            String name, String endpoint, List<String> addresses, long received, long sent, Instant since) {}

    private OpenVpnStatus() {}

    public static List<Client> parse(String text) {
        Map<String, Integer> columns = new HashMap<>();
        List<Client> out = new ArrayList<>();
        int number = 0;
        for (String line : text.split("\r?\n")) {
            number++;
            String[] cells = line.split(line.indexOf('\t') >= 0 ? "\t" : ",", -1);
            if (cells[0].equals("HEADER") && cells.length > 2 && cells[1].equals("CLIENT_LIST")) {
                for (int i = 2; i < cells.length; i++) {
                    columns.put(cells[i], i - 1);
                }
            } else if (cells[0].equals("CLIENT_LIST")) {
                if (out.size() == MAX_CLIENTS) {
                    throw new MalformedException("too-many", "line " + number, "more clients than are read");
                }
                out.add(client(columns, cells, number));
            }
        }
        return out;
    }

    private static Client client(Map<String, Integer> columns, String[] cells, int line) {
        try {
            List<String> addresses = new ArrayList<>();
            for (String column : List.of("Virtual Address", "Virtual IPv6 Address")) {
                String address = cell(columns, cells, column);
                if (!address.isEmpty()) {
                    addresses.add(address);
                }
            }
            return new Client(
                    cell(columns, cells, "Common Name"),
                    cell(columns, cells, "Real Address"),
                    addresses,
                    Long.parseLong(cell(columns, cells, "Bytes Received")),
                    Long.parseLong(cell(columns, cells, "Bytes Sent")),
                    Instant.ofEpochSecond(Long.parseLong(cell(columns, cells, "Connected Since (time_t)"))));
        } catch (NumberFormatException | java.time.DateTimeException e) {
            throw new MalformedException("status", "line " + line, "a count or time is no number");
        }
    }

    private static String cell(Map<String, Integer> columns, String[] cells, String name) {
        Integer at = columns.get(name);
        return at == null || at >= cells.length ? "" : cells[at];
    }
}
