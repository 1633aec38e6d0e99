package tender.standins.demo;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import tender.standins.router.RouterFolder;

/**
 * Devices on the outer isles that nobody can reach from the office: their files are carried over by hand. Each has one thing
 * wrong with how it is called from outside, or with what is known of it.
 */
public final class Carried {
    private static final int PORT = 51820;

    private Carried() {}

    /** The devices' files by name, each laid out in a folder of its own below {@code folder}. */
    static void layOut(Path folder) throws IOException {
        for (Map.Entry<String, RouterFolder> device : devices().entrySet()) {
            device.getValue().layOut(folder.resolve(device.getKey()));
        }
    }

    private static Map<String, RouterFolder> devices() {
        Map<String, RouterFolder> out = new LinkedHashMap<>();
        out.put("hut-north", hut("hut-north", 1)); // nobody has said how it is reached
        out.put("hut-east", hut("hut-east", 2).general("uplink = fixed 198.51.100.22"));
        out.put("hut-south", hut("hut-south", 3).general("uplink = changing hut-south.skerrivane.example"));
        out.put("hut-west", hut("hut-west", 4).general("uplink = fixed 198.51.100.24"));
        out.put("hut-mid", hut("hut-mid", 5).general("uplink = fixed 198.51.100.25"));
        out.put("hut-late", hut("hut-late", 7)); // a later copy is garbled
        out.put("hut-far", hut("hut-far", 8)); // never carried over
        // behind the workshop's line, which passes nothing on to it
        out.put("slip-yard", device("slip-yard", 6, 51877).general("interface.wan = outside 10.20.2.6/24"));
        return out;
    }

    private static RouterFolder hut(String name, int number) {
        return device(name, number, PORT);
    }

    private static RouterFolder device(String name, int number, int port) {
        return RouterFolder.of(name)
                .general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .rule("outside any > device any : udp " + port + " : open  # staff tunnel")
                .rule("tunnel any > network any : any any : open")
                .rule("inside any > network any : any any : open")
                .tunnel("wg0", "10.98." + number + ".1/24", port);
    }
}
