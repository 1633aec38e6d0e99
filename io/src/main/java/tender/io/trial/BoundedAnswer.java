package tender.io.trial;

import java.io.FilterInputStream;
import java.io.IOException;
import java.net.Socket;
import java.net.SocketTimeoutException;

/** What a stranger sends back: no longer than until an instant, and no more than a handshake has to say. */
final class BoundedAnswer extends FilterInputStream {
    static final int MAX_BYTES = 256 * 1024;

    private final Socket socket;
    private final long end;
    private int left = MAX_BYTES;

    /** @param end by {@link System#nanoTime} */
    BoundedAnswer(Socket socket, long end) throws IOException {
        super(socket.getInputStream());
        this.socket = socket;
        this.end = end;
    }

    @Override
    public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] into, int offset, int length) throws IOException {
        long millis = (end - System.nanoTime()) / 1_000_000;
        if (millis <= 0) {
            throw new SocketTimeoutException("it says too little in too long a time");
        }
        if (left <= 0) {
            throw new IOException("it says more than a handshake needs");
        }
        socket.setSoTimeout((int) millis);
        int count = super.read(into, offset, Math.min(length, left));
        left -= Math.max(0, count);
        return count;
    }
}
