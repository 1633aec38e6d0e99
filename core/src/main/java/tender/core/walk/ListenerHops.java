package tender.core.walk;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.Office;

/** What the listener makes of the file: its settings, its login, an address in the tunnel. */
record ListenerHops(Trip trip) {
    /** Whom the file calls was walked already: one that calls an older name of the same line still gets through. */
    Hop file() {
        Office.IssuedProfile issued = trip.question().from();
        List<Fit.Difference> differences = Fit.differences(trip.listener(), List.of(), issued);
        if (differences.isEmpty()) {
            return Hop.passes(
                    Hop.Kind.FILE,
                    issued.label(),
                    "the file's revision",
                    "the file fits " + trip.listener().name());
        }
        Fit.Difference first = differences.get(0);
        return Hop.fails(
                        Hop.Kind.FILE,
                        issued.label(),
                        "the file's revision",
                        "the file says " + first.field() + " " + first.was() + ", "
                                + trip.gateway().name() + " " + first.is())
                .fixedBy(trip.renew());
    }

    Hop login() {
        Office.IssuedProfile issued = trip.question().from();
        if (issued.credentialEnds()
                .filter(end -> !end.isAfter(trip.office().now()))
                .isPresent()) {
            return Hop.fails(
                            Hop.Kind.LOGIN,
                            issued.label(),
                            "the credential",
                            "the credential ended on " + issued.credentialEnds().get())
                    .fixedBy("Renew the credential of " + issued.label() + ", then hand it out again");
        }
        if (trip.listener().is(Attribute.ACCOUNTS, "local")) {
            Optional<Device.Account> account = trip.gateway().device().accounts().stream()
                    .filter(a -> a.name().equals(issued.account()) && a.vpn())
                    .findFirst();
            if (account.isEmpty()) {
                return Hop.fails(
                                Hop.Kind.LOGIN,
                                trip.gateway().name(),
                                "the local accounts",
                                trip.gateway().name() + " has no VPN account " + issued.account())
                        .fixedBy("Add the account " + issued.account() + " on "
                                + trip.gateway().name());
            }
        }
        return Hop.passes(
                Hop.Kind.LOGIN,
                trip.gateway().name(),
                trip.listener()
                        .get(Attribute.ACCOUNTS)
                        .map(a -> "accounts: " + a)
                        .orElse("the credential"),
                issued.credentialEnds()
                        .map(end -> "the credential holds for "
                                + Duration.between(trip.office().now(), end).toDays() + " days more")
                        .orElse("the credential has no end"));
    }

    Hop tunnelAddress() {
        if (trip.listener().tunnels().isEmpty()) {
            return Hop.fails(
                    Hop.Kind.TUNNEL_ADDRESS,
                    trip.gateway().name(),
                    trip.listener().name(),
                    "the listener has no tunnel network");
        }
        return Hop.passes(
                Hop.Kind.TUNNEL_ADDRESS,
                trip.gateway().name(),
                trip.listener().name(),
                "gives an address of " + trip.listener().tunnels().get(0));
    }
}
