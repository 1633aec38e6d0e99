package tender.standins.names;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketException;
import java.util.Arrays;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.xbill.DNS.AAAARecord;
import org.xbill.DNS.ARecord;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Flags;
import org.xbill.DNS.Message;
import org.xbill.DNS.Name;
import org.xbill.DNS.Rcode;
import org.xbill.DNS.Record;
import org.xbill.DNS.Section;
import org.xbill.DNS.Type;
import tender.core.network.IpAddress;

/** Answers address queries for one zone over UDP from a table that can change while it runs. */
public final class NameServer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(NameServer.class);
    private static final int MAX_QUERY = 512;
    private static final int TTL_SECONDS = 5;

    private final DatagramSocket socket;
    private final Map<String, IpAddress> table = new ConcurrentHashMap<>();

    public NameServer(InetSocketAddress bind, Map<String, IpAddress> names) throws SocketException {
        socket = new DatagramSocket(bind);
        table.putAll(names);
        Thread thread = new Thread(this::run, "name-server");
        thread.setDaemon(true);
        thread.start();
    }

    public int port() {
        return socket.getLocalPort();
    }

    /** Adds or changes a name. */
    public void put(String name, IpAddress address) {
        table.put(name, address);
    }

    private void run() {
        byte[] buffer = new byte[MAX_QUERY];
        while (!socket.isClosed()) {
            try {
                DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
                socket.receive(packet);
                byte[] answer = answer(new Message(Arrays.copyOf(packet.getData(), packet.getLength())))
                        .toWire(MAX_QUERY);
                socket.send(new DatagramPacket(answer, answer.length, packet.getSocketAddress()));
            } catch (IOException e) {
                if (!socket.isClosed()) {
                    LOG.warn("name server: {}", e.getMessage());
                }
            }
        }
    }

    private Message answer(Message query) throws IOException {
        Message answer = new Message(query.getHeader().getID());
        answer.getHeader().setFlag(Flags.QR);
        answer.getHeader().setFlag(Flags.AA);
        Record question = query.getQuestion();
        if (question == null) {
            answer.getHeader().setRcode(Rcode.FORMERR);
            return answer;
        }
        answer.addRecord(question, Section.QUESTION);
        Name name = question.getName();
        IpAddress address = table.get(name.toString(true).toLowerCase(java.util.Locale.ROOT));
        if (address == null) {
            answer.getHeader().setRcode(Rcode.NXDOMAIN);
        } else if (question.getType() == (address.isV4() ? Type.A : Type.AAAA)) {
            InetAddress inet = InetAddress.getByAddress(address.toBytes());
            answer.addRecord(
                    address.isV4()
                            ? new ARecord(name, DClass.IN, TTL_SECONDS, inet)
                            : new AAAARecord(name, DClass.IN, TTL_SECONDS, inet),
                    Section.ANSWER);
        }
        return answer;
    }

    @Override
    public void close() {
        socket.close();
    }
}
