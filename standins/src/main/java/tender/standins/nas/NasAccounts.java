package tender.standins.nas;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.GZIPOutputStream;
import tender.standins.device.ClientAuthority;

/**
 * The storage device's own authority and the client files that it makes: one tar.gz for all accounts, which call the device by a
 * name that only the workshop knows.
 */
final class NasAccounts {
    private final ClientAuthority authority;
    private final Map<String, String> archive = new LinkedHashMap<>();

    private NasAccounts(Instant now) {
        this.authority = new ClientAuthority("Cairn 2 of Dunmar Slip", now);
    }

    /** Writes the server's keys and the archive. */
    static void layOut(Path folder, Instant now) throws IOException {
        NasAccounts accounts = begun(folder, now);
        accounts.account("bram-laptop", ClientAuthority.LIFE.minusDays(30), "");
        accounts.account("corin-laptop", Duration.ofDays(-20), "");
        accounts.account(
                "petra-laptop",
                ClientAuthority.LIFE.minusDays(30),
                "script-security 2\nup /usr/local/bin/mount-drives.sh\n");
        accounts.account("scanner-room-2", ClientAuthority.LIFE.minusDays(30), "");
        accounts.write(folder);
    }

    /** The same for a device that somebody looks after: every file is a person's, and one ends soon. */
    static void sound(Path folder, Instant now) throws IOException {
        NasAccounts accounts = begun(folder, now);
        for (String name : List.of("petra-laptop", "nils-laptop", "amos-laptop", "signe-laptop", "bram-laptop")) {
            accounts.account(name, ClientAuthority.LIFE.minusDays(30), "");
        }
        accounts.account("kell-laptop", Duration.ofDays(19), "");
        accounts.write(folder);
    }

    private static NasAccounts begun(Path folder, Instant now) throws IOException {
        Files.createDirectories(folder.resolve("etc/vpn/keys"));
        NasAccounts accounts = new NasAccounts(now);
        accounts.server(folder.resolve("etc/vpn/keys"));
        accounts.archive.put(
                "READ ME.txt", "Unpack on your computer. Import the .ovpn file of your name in your VPN program.\n");
        accounts.archive.put("ca.pem", accounts.authority.certificate());
        return accounts;
    }

    private void write(Path folder) throws IOException {
        Files.createDirectories(folder.resolve("var/export"));
        Files.write(folder.resolve("var/export/clients.tar.gz"), tar(archive));
    }

    private void server(Path keys) throws IOException {
        ClientAuthority.Pair pair = authority.server("vault");
        Files.writeString(keys.resolve("ca.pem"), authority.certificate());
        Files.writeString(keys.resolve("server.pem"), pair.certificate());
        Files.writeString(keys.resolve("server-key.pem"), pair.key());
    }

    private void account(String name, Duration life, String more) {
        ClientAuthority.Pair pair = authority.client(name, life);
        archive.put(name + "/client-" + name + ".key", pair.key());
        archive.put(
                name + "/" + name + ".ovpn",
                "client\ndev tun\nproto udp\nremote vault 1194\nca ca.pem\n<cert>\n"
                        + pair.certificate() + "</cert>\nkey client-" + name
                        + ".key\ncipher AES-128-CBC\nauth SHA1\ncomp-lzo yes\n" + more);
    }

    /** A POSIX tar (IEEE 1003.1 ustar), compressed. */
    private static byte[] tar(Map<String, String> files) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
            for (Map.Entry<String, String> file : files.entrySet()) {
                byte[] content = file.getValue().getBytes(StandardCharsets.UTF_8);
                zip.write(header(file.getKey(), content.length));
                zip.write(content);
                zip.write(new byte[(512 - content.length % 512) % 512]);
            }
            zip.write(new byte[1024]);
        }
        return out.toByteArray();
    }

    private static byte[] header(String name, int size) {
        byte[] header = new byte[512];
        put(header, 0, name);
        put(header, 100, "0000600");
        put(header, 108, "0000000");
        put(header, 116, "0000000");
        put(header, 124, String.format("%011o", size));
        put(header, 136, "00000000000");
        put(header, 148, "        ");
        header[156] = '0';
        put(header, 257, "ustar\00000");
        int sum = 0;
        for (byte b : header) {
            sum += b & 0xff;
        }
        put(header, 148, String.format("%06o\0 ", sum));
        return header;
    }

    private static void put(byte[] header, int at, String text) {
        byte[] bytes = text.getBytes(StandardCharsets.US_ASCII);
        System.arraycopy(bytes, 0, header, at, bytes.length);
    }
}
