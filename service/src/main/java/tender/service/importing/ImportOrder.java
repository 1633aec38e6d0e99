package tender.service.importing;

import java.util.Map;
import java.util.Optional;
import tender.store.office.Gateways;

/**
 * Files to import at a gateway.
 *
 * @param listener empty where the gateway has one of the files' kind, or folders are named after them
 * @param name of the file or archive
 * @param assign whose files are, by path: {@code mara/laptop}
 * @param unlocking opens locked key stores
 * @param decision why dangerous lines may stay; without it a file with such lines is held back
 */
public record ImportOrder(
        Gateways.Gateway gateway,
        Optional<String> listener,
        String name,
        byte[] content,
        Map<String, String> assign,
        RefusedRepairs refused,
        Optional<Unlocking> unlocking,
        Optional<String> decision) {}
