package tender.standins.nas;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;

/** A new storage device's files. */
public final class NasFolder {
    private NasFolder() {}

    /** Writes the files where there are none yet, with the faults that such devices have in practice. */
    public static void layOut(Path folder) throws IOException {
        if (!Files.exists(folder.resolve("etc/device.conf"))) {
            NasAccounts.layOut(folder, Instant.now());
            write(folder);
        }
    }

    /** Writes the files where there are none yet, of a device that somebody looks after. */
    public static void sound(Path folder) throws IOException {
        if (Files.exists(folder.resolve("etc/device.conf"))) {
            return;
        }
        NasAccounts.sound(folder, Instant.now());
        write(folder);
        Path etc = folder.resolve("etc");
        Files.writeString(etc.resolve("callers.list"), """
                # checked from the top
                inside any : any any : open
                outside any : udp 1194 : open  # staff
                outside any : udp 500 : open
                outside any : udp 4500 : open
                outside any : any any : shut
                rest : open
                """);
        Files.writeString(etc.resolve("vpn/openvpn.conf"), """
                # written by the device's own page
                port 1194
                proto udp
                dev tun
                server 10.99.2.0 255.255.255.128
                push "route 10.20.2.0 255.255.255.0"
                push "dhcp-option DNS 10.20.2.53"
                data-ciphers AES-256-GCM
                auth SHA256
                tls-version-min 1.2
                ca /etc/vpn/keys/ca.pem
                cert /etc/vpn/keys/server.pem
                key /etc/vpn/keys/server-key.pem
                max-clients 20
                keepalive 10 60
                persist-key
                """);
        Path device = etc.resolve("device.conf");
        Files.writeString(device, Files.readString(device).replace("Etc/UTC", "Europe/Oslo"));
    }

    private static void write(Path folder) throws IOException {
        Path etc = folder.resolve("etc");
        Files.createDirectories(etc.resolve("vpn/keys"));
        Files.createDirectories(folder.resolve("var/log"));
        Files.writeString(etc.resolve("callers.list"), """
                # checked from the top
                inside any : any any : open
                outside any : udp any : shut
                outside any : udp 1194 : open  # staff
                outside any : udp 500 : open
                outside any : udp 4500 : open
                rest : open
                """);
        Files.writeString(etc.resolve("vpn/openvpn.conf"), """
                # written by the device's own page
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
                max_clients = 4
                max_per_user = 2
                auth_source = local
                """);
        Files.writeString(folder.resolve("var/log/openvpn.status"), """
                TITLE,OpenVPN status
                HEADER,CLIENT_LIST,Common Name,Real Address,Virtual Address,Virtual IPv6 Address,Bytes Received,Bytes Sent,Connected Since,Connected Since (time_t),Username,Client ID,Peer ID,Data Channel Cipher
                END
                """);
        Files.writeString(etc.resolve("device.conf"), """
                # the device
                maker = Holmgard
                model = Cairn 2
                version = 2.8
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
