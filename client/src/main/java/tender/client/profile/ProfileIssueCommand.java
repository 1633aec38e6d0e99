package tender.client.profile;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.ProfileApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Times;

@Command(
        name = "issue",
        mixinStandardHelpOptions = true,
        description = {
            "Issue a profile for a device: keys, the next free tunnel address, and the peer or account on the gateway.",
            "With --team or --everyone: for every device that has no profile there yet, in one write to the gateway."
        },
        footer = {
            "",
            "  tender profile issue mara phone --gateway pier2",
            "  tender profile issue mara phone --gateway pier2 --full-tunnel --dns 10.20.4.53",
            "  tender profile issue mara laptop --gateway pier2 --public-key KEY   (made on the device)",
            "  tender profile issue mara phone --gateway orrin-fw --listener phones --authority skerrivane",
            "  tender profile issue yara laptop --gateway slip-nas --listener l2tp --account yara.n",
            "  tender profile issue yara phone --gateway orrin-fw --listener phones --make-account",
            "  tender profile issue --team masters --gateway pier2 --dry-run",
            "  tender profile issue --everyone --gateway pier2 --until 2027-06-30T00:00:00Z --yes"
        })
final class ProfileIssueCommand extends ClientCommand {
    @Parameters(index = "0", arity = "0..1", paramLabel = "PERSON")
    Optional<String> person;

    @Parameters(index = "1", arity = "0..1", paramLabel = "DEVICE")
    Optional<String> device;

    @Option(names = "--team", description = "Issue for every device of this team.")
    Optional<String> team;

    @Option(names = "--everyone", description = "Issue for every device of everyone.")
    boolean everyone;

    @Option(names = "--gateway", required = true)
    String gateway;

    @Option(names = "--listener", description = "Needed if the gateway has several listeners.")
    Optional<String> listener;

    @Option(names = "--public-key", description = "Public key of a key pair that the device created.")
    Optional<String> publicKey;

    @Option(names = "--full-tunnel", description = "Send everything through the tunnel.")
    boolean fullTunnel;

    @Option(
            names = "--reach",
            split = ",",
            description = "Networks to send through the tunnel. Default: the site's and the tunnel's")
    List<String> reach = List.of();

    @Option(names = "--dns", split = ",", description = "DNS servers for the device.")
    List<String> dns = List.of();

    @Option(names = "--address", description = "Its tunnel address. Default: the next free one")
    Optional<String> address;

    @Option(
            names = "--until",
            paramLabel = "TIME",
            description = "When its credentials expire: a date, 30d, \"2027-01-20 18:00\". Default: never")
    Optional<String> until;

    @Option(names = "--account", description = "Account name, if the listener asks for an account. Default: PERSON")
    Optional<String> account;

    @Option(
            names = "--make-account",
            description = "Create an account on the gateway, with a password that is handed out.")
    boolean makeAccount;

    @Option(names = "--authority", description = "The authority that signs, if the gateway does not say.")
    Optional<String> authority;

    @Option(names = "--reason", description = "Why a broken protocol (PPTP) is handed out anyway.")
    Optional<String> reason;

    @Option(names = "--dry-run", description = "Show what would be issued; write nothing.")
    boolean dryRun;

    @Option(names = "--yes", description = "With --team or --everyone: do not ask.")
    boolean yes;

    @Override
    protected int run() {
        boolean many = everyone || team.isPresent();
        if (many == device.isPresent() || everyone && team.isPresent()) {
            throw CallFailure.of(ProblemCode.MALFORMED, "give PERSON and DEVICE, or --team TEAM, or --everyone");
        }
        return many ? many() : one();
    }

    private int many() {
        boolean ofOne = publicKey.isPresent()
                || fullTunnel
                || !reach.isEmpty()
                || !dns.isEmpty()
                || address.isPresent()
                || account.isPresent()
                || authority.isPresent()
                || reason.isPresent();
        if (ofOne) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED,
                    "--team and --everyone take --listener, --until and --make-account; what each team gets is its grant");
        }
        return new ManyProfiles(gateway, listener, team, until.map(Times::until), makeAccount, dryRun, yes)
                .run(terminal, calls());
    }

    private int one() {
        Calls calls = calls();
        ProfileApi.Issued issued = calls.post(
                "/profiles",
                new ProfileApi.Issue(
                        person.orElseThrow(),
                        device.orElseThrow(),
                        gateway,
                        listener,
                        publicKey,
                        fullTunnel ? Optional.of(true) : Optional.empty(),
                        Optional.of(reach),
                        Optional.of(dns),
                        address,
                        until.map(Times::until),
                        account,
                        Optional.of(makeAccount),
                        authority,
                        reason,
                        Optional.of(dryRun)),
                ProfileApi.Issued.class);
        if (dryRun) {
            ProfileCommands.show(terminal, issued.profile());
            terminal.say("nothing was written");
            return 0;
        }
        int code = ProfileCommands.await(terminal, calls, issued, "ready");
        if (Found.profile(calls, issued.profile().label()).instruction().isPresent()) {
            return code;
        }
        terminal.say(
                code == 0
                        ? "  do: tender handout prepare " + issued.profile().label()
                        : "the gateway was rolled back; nothing of the profile is left on it");
        return code;
    }
}
