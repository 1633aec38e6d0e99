package tender.service.profile;

import java.util.UUID;
import tender.core.profile.FileName;
import tender.store.jdbc.Tx;
import tender.store.profile.FileStems;
import tender.store.profile.Profiles;

/** The stem of a profile's file names, given with its first file. */
final class Stems {
    private Stems() {}

    static String of(Tx tx, UUID profileId, ProfilePlan w) {
        return of(tx, profileId, w.who(), w.deviceName(), w.listener().gateway());
    }

    static String of(Tx tx, UUID profileId, String who, String device, String gateway) {
        return FileStems.give(tx, profileId, FileName.stems(who, device, gateway, profileId.toString()));
    }

    /** Of a profile that exists; one from before stems were kept gets one now. */
    static String of(Tx tx, Profiles.Profile p) {
        return FileStems.of(tx, p.id())
                .orElseGet(() ->
                        of(tx, p.id(), p.person().orElse("canary"), p.device().orElse(p.listener()), p.gateway()));
    }
}
