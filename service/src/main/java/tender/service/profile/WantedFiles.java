package tender.service.profile;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.office.WantedFile;
import tender.store.profile.FileRequests.FileRequest;

/** Requested client files in words, for whoever makes them. */
public final class WantedFiles {
    private WantedFiles() {}

    /** Names the user after the person, and after the device too where several of one person are requested. */
    static Function<FileRequest, String> users(List<FileRequest> all) {
        Map<String, Long> devices =
                all.stream().collect(Collectors.groupingBy(r -> r.gatewayId() + r.handle(), Collectors.counting()));
        return r -> devices.get(r.gatewayId() + r.handle()) == 1 ? r.handle() : r.handle() + "-" + r.device();
    }

    /** What to do, one paragraph for each gateway. */
    public static List<String> words(List<FileRequest> all) {
        Function<FileRequest, String> user = users(all);
        Map<UUID, List<FileRequest>> byGateway = all.stream()
                .collect(Collectors.groupingBy(FileRequest::gatewayId, LinkedHashMap::new, Collectors.toList()));
        List<String> out = new ArrayList<>();
        byGateway
                .values()
                .forEach(at -> out.add(WantedFile.words(
                        at.get(0).gateway(),
                        at.stream()
                                .map(r -> new WantedFile(
                                        user.apply(r), r.replaces().isPresent()))
                                .toList())));
        return out;
    }
}
