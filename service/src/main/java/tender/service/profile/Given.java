package tender.service.profile;

import java.util.List;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.store.profile.Profiles;

/**
 * What a file sends into the tunnel and whom it asks for names.
 *
 * @param takesPushed whether it takes the routes that the server pushes as well, where its kind has any
 */
record Given(List<Cidr> reach, List<IpAddress> dns, boolean takesPushed) {
    static Given of(Profiles.Profile p) {
        return new Given(p.reach(), p.dns(), p.takesPushed());
    }
}
