package tender.standins.nas;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationFacts;
import tender.core.credential.Secret;
import tender.core.device.LineTemplate;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.PortRange;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;
import tender.core.openvpn.ClientSettings;
import tender.core.openvpn.OpenVpnServer;
import tender.core.profile.OpenVpnFile;
import tender.standins.device.DeviceFilter;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.listener.Callers;
import tender.standins.listener.Connected;
import tender.standins.listener.Ikev1Responder;
import tender.standins.listener.InsideWorld;
import tender.standins.listener.Regulars;
import tender.standins.listener.SimulatedOpenVpnServer;

/** The storage device's OpenVPN server and the port of its L2TP listener, run by the file that the device has for it and by its list of who may connect. */
final class NasListener implements AutoCloseable {
    private static final LineTemplate RULE = LineTemplate.parse("{via} {source} : {transport} {ports} : {action}");
    private static final LineTemplate REST = LineTemplate.parse("rest : {action}");
    private static final String NAME = "openvpn";
    private static final int IKE = 500;
    private static final int IKE_NAT = 4_500;

    private final Path folder;
    private final InetAddress address;
    private final Faults faults;
    private final Journal journal;
    private Optional<SimulatedOpenVpnServer> running = Optional.empty();
    private Optional<Ikev1Responder> old = Optional.empty();

    private final Regulars regulars = new Regulars();

    Regulars regulars() {
        return regulars;
    }

    NasListener(Path folder, InetAddress address, Faults faults, Journal journal) {
        this.folder = folder;
        this.address = address;
        this.faults = faults;
        this.journal = journal;
    }

    /** Starts anew by what the files say now. */
    synchronized void reload(Map<String, Secret> accounts) throws IOException {
        close();
        reloadOld();
        OpenVpnFile file = OpenVpnFile.read(Files.readString(folder.resolve("etc/vpn/openvpn.conf")))
                .file();
        int port = Integer.parseInt(word(file, "port").orElse("1194"));
        Transport transport = word(file, "proto").orElse("udp").startsWith("tcp") ? Transport.TCP : Transport.UDP;
        if (!DeviceFilter.admits(filter(), new PortSpec(transport, new Port(port)))) {
            journal.say("openvpn: the list keeps callers from outside away");
            return;
        }
        List<String> ciphers = Arrays.stream(word(file, "data-ciphers")
                        .or(() -> word(file, "cipher"))
                        .orElse("AES-256-GCM")
                        .split(":"))
                .filter(OpenVpnServer::knows)
                .toList();
        boolean asksCertificate = word(file, "verify-client-cert").isEmpty();
        running = Optional.of(SimulatedOpenVpnServer.start(
                new SimulatedOpenVpnServer.Setup(
                        NAME,
                        transport,
                        new InetSocketAddress(address, port),
                        new ClientSettings.Identity(List.of(der(file, "cert")), key(file)),
                        file.has("tls-crypt") ? "crypt" : "none",
                        file.last("tls-crypt").flatMap(d -> d.block()).orElse(""),
                        word(file, "auth").orElse("SHA1"),
                        ciphers,
                        asksCertificate,
                        file.has("auth-user-pass-verify"),
                        file.has("comp-lzo"),
                        network(file.last("server").orElseThrow()),
                        pushed(file),
                        Optional.empty(),
                        new Callers(List.of(der(file, "ca")), revoked(file), Optional.empty(), accounts)),
                world(),
                faults,
                journal));
    }

    /** Low ports are for the machine's owner alone: elsewhere the device goes without. */
    private void reloadOld() throws IOException {
        boolean admitted = DeviceFilter.admits(filter(), new PortSpec(Transport.UDP, new Port(IKE)));
        if (!admitted || !Files.exists(folder.resolve("etc/vpn/l2tp.conf"))) {
            return;
        }
        try {
            old = Optional.of(Ikev1Responder.start(address, IKE, IKE_NAT));
        } catch (IOException e) {
            journal.say("l2tp does not start: " + e.getMessage());
        }
    }

    private static Optional<String> word(OpenVpnFile file, String directive) {
        return file.last(directive).flatMap(d -> d.word(0));
    }

    private static Cidr network(OpenVpnFile.Directive server) {
        return Cidr.of(
                IpAddress.parse(server.words().get(0)),
                Long.bitCount(IpAddress.parse(server.words().get(1)).low()));
    }

    private static List<Cidr> pushed(OpenVpnFile file) {
        List<Cidr> out = new ArrayList<>();
        for (OpenVpnFile.Directive push : file.all("push")) {
            String[] words = push.word(0).orElse("").split("\\s+");
            if (words[0].equals("route") && words.length >= 3) {
                out.add(Cidr.of(
                        IpAddress.parse(words[1]),
                        Long.bitCount(IpAddress.parse(words[2]).low())));
            }
        }
        return out;
    }

    private String text(OpenVpnFile file, String directive) throws IOException {
        Optional<String> inline = file.last(directive).flatMap(d -> d.block());
        return inline.isPresent()
                ? inline.get()
                : Files.readString(
                        folder.resolve(word(file, directive).orElseThrow().substring(1)));
    }

    private byte[] der(OpenVpnFile file, String directive) throws IOException {
        return PemText.read(text(file, directive)).blocks().get(0).der();
    }

    private CertificateKey key(OpenVpnFile file) throws IOException {
        return CertificateKey.ofPrivate(Secret.of(der(file, "key")));
    }

    private Set<String> revoked(OpenVpnFile file) throws IOException {
        return file.has("crl-verify")
                ? Set.copyOf(RevocationFacts.of(der(file, "crl-verify")).serials())
                : Set.of();
    }

    private Filter filter() throws IOException {
        List<FilterRule> rules = new ArrayList<>();
        boolean otherwise = true;
        for (String line : Files.readAllLines(folder.resolve("etc/callers.list"))) {
            RULE.match(line)
                    .ifPresent(v -> rules.add(new FilterRule(
                            v.get("action").equals("open"),
                            true,
                            any(v.get("via")).map(Side::parse),
                            any(v.get("transport")).map(t -> t.equals("udp") ? Transport.UDP : Transport.TCP),
                            PortRange.parse(v.get("ports")),
                            any(v.get("source")).map(Cidr::parse),
                            Optional.empty(),
                            "")));
            otherwise =
                    REST.match(line).map(v -> v.get("action").equals("open")).orElse(otherwise);
        }
        return new Filter(rules, otherwise);
    }

    private static Optional<String> any(String text) {
        return text.equals("any") ? Optional.empty() : Optional.of(text);
    }

    private InsideWorld world() throws IOException {
        Set<IpAddress> hosts = new java.util.HashSet<>();
        for (String line : Files.readAllLines(folder.resolve("etc/device.conf"))) {
            String[] pair = line.split("\\s*=\\s*");
            if (pair.length == 2 && pair[0].equals("check_host")) {
                hosts.add(IpAddress.parse(pair[1].strip()));
            }
        }
        return new InsideWorld(hosts, IpAddress.parse("10.20.9.53"), Map.of(), address, faults);
    }

    /** The status as OpenVPN writes it, version 2. */
    synchronized String status() {
        StringBuilder out = new StringBuilder(
                "TITLE,OpenVPN status\nHEADER,CLIENT_LIST,Common Name,Real Address,Virtual Address,Virtual IPv6 Address,Bytes Received,Bytes Sent,Connected Since,Connected Since (time_t),Username,Client ID,Peer ID,Data Channel Cipher\n");
        List<Connected> all =
                new ArrayList<>(running.map(SimulatedOpenVpnServer::connected).orElse(List.of()));
        all.addAll(regulars.connected());
        for (Connected c : all) {
            out.append(String.join(
                            ",",
                            "CLIENT_LIST",
                            c.name(),
                            c.endpoint(),
                            c.address(),
                            "",
                            Long.toString(c.received()),
                            Long.toString(c.sent()),
                            c.since().toString(),
                            Long.toString(c.since().getEpochSecond()),
                            c.name(),
                            "0,0,AES-256-GCM"))
                    .append('\n');
        }
        return out.append("END\n").toString();
    }

    @Override
    public synchronized void close() throws IOException {
        if (running.isPresent()) {
            running.get().close();
            running = Optional.empty();
        }
        old.ifPresent(Ikev1Responder::close);
        old = Optional.empty();
    }
}
