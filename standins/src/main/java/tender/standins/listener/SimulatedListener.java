package tender.standins.listener;

import java.io.IOException;
import java.util.List;

/** A listener that is active. */
public interface SimulatedListener extends AutoCloseable {
    List<Connected> connected();

    @Override
    void close() throws IOException;
}
