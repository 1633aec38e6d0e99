package tender.standins.demo;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import tender.standins.router.RouterFolder;

/**
 * Boxes on the outer isles that nobody can reach from the office: their files are carried over by hand. Each has one thing
 * wrong with how it is called from outside, or with what is known of it.
 */
public final class Carried {
    private static final int PORT = 51820;

    private Carried() {}

    /** The boxes' files by name, each laid out in a folder of its own below {@code folder}. */
    static void layOut(Path folder) throws IOException {
        for (Map.Entry<String, RouterFolder> box : boxes().entrySet()) {
            box.getValue().layOut(folder.resolve(box.getKey()));
        }
    }

    private static Map<String, RouterFolder> boxes() {
        Map<String, RouterFolder> out = new LinkedHashMap<>();
        out.put("hut-north", hut("hut-north", 1)); // nobody has said how it is reached
        out.put("hut-east", hut("hut-east", 2).general("uplink = fixed 198.51.100.22"));
        out.put("hut-south", hut("hut-south", 3).general("uplink = changing hut-south.skerrivane.example"));
        out.put("hut-west", hut("hut-west", 4).general("uplink = fixed 198.51.100.24"));
        out.put("hut-mid", hut("hut-mid", 5).general("uplink = fixed 198.51.100.25"));
        out.put("hut-late", hut("hut-late", 7)); // a later copy is garbled
        out.put("hut-far", hut("hut-far", 8)); // never carried over
        // behind the workshop's line, which passes nothing on to it
        out.put("slip-yard", box("slip-yard", 6, 51877).general("interface.wan = outside 10.20.2.6/24"));
        return out;
    }

    private static RouterFolder hut(String name, int number) {
        return box(name, number, PORT);
    }

    private static RouterFolder box(String name, int number, int port) {
        return RouterFolder.of(name)
                .general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .rule("allow in udp " + port + " from any to any via outside  # staff tunnel")
                .rule("allow through any any from any to any via tunnel")
                .rule("allow through any any from any to any via inside")
                .tunnel("wg0", "10.98." + number + ".1/24", port);
    }
}
