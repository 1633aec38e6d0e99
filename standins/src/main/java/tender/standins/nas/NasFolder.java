package tender.standins.nas;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;

/** A new storage box's files, with the faults that such boxes have in practice. */
public final class NasFolder {
    private NasFolder() {}

    /** Writes the files where there are none yet. */
    public static void layOut(Path folder) throws IOException {
        Path etc = folder.resolve("etc");
        if (Files.exists(etc.resolve("box.conf"))) {
            return;
        }
        Files.createDirectories(etc.resolve("vpn/keys"));
        Files.createDirectories(folder.resolve("var/log"));
        NasAccounts.layOut(folder, Instant.now());
        Files.writeString(etc.resolve("access.list"), """
                # checked from the top
                permit any any from any via inside
                refuse udp any from any via outside
                permit udp 1194 from any via outside  # staff
                permit udp 500 from any via outside
                permit udp 4500 from any via outside
                rest permit
                """);
        Files.writeString(etc.resolve("vpn/openvpn.conf"), """
                # written by the box's own page
                port 1194
                proto udp
                dev tun
                server 10.99.2.0 255.255.255.0
                push "route 10.20.2.0 255.255.255.0"
                push "dhcp-option DNS 10.20.9.53"
                cipher AES-128-CBC
                data-ciphers AES-256-GCM:BF-CBC
                auth SHA1
                comp-lzo yes
                tls-version-min 1.0
                ca /etc/vpn/keys/ca.pem
                cert /etc/vpn/keys/server.pem
                key /etc/vpn/keys/server-key.pem
                verify-client-cert none
                auth-user-pass-verify /usr/sbin/check-account via-file
                max-clients 2
                keepalive 10 60
                persist-key
                """);
        Files.writeString(etc.resolve("vpn/l2tp.conf"), """
                address_range = 10.99.2.128/25
                max_clients = 5
                max_per_user = 3
                auth_source = local
                """);
        Files.writeString(folder.resolve("var/log/openvpn.status"), """
                TITLE,OpenVPN status
                HEADER,CLIENT_LIST,Common Name,Real Address,Virtual Address,Virtual IPv6 Address,Bytes Received,Bytes Sent,Connected Since,Connected Since (time_t),Username,Client ID,Peer ID,Data Channel Cipher
                END
                """);
        Files.writeString(etc.resolve("box.conf"), """
                # the box
                maker = Holmgard
                model = Vault 2
                version = 6.9
                timezone = Etc/UTC
                check_host = 10.20.2.20
                lan_workshop = 10.20.2.0/24
                if_eth0 = outside 10.20.2.5/24
                user_keeper = admin
                user_bram = vpn admin
                user_tove = vpn
                """);
    }
}
