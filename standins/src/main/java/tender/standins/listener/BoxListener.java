package tender.standins.listener;

import java.io.IOException;
import java.util.List;

/** A listener that is in force. */
public interface BoxListener extends AutoCloseable {
    List<Connected> connected();

    @Override
    void close() throws IOException;
}
