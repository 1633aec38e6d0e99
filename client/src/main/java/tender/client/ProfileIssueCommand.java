package tender.client;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProfileApi;

@Command(
        name = "issue",
        mixinStandardHelpOptions = true,
        description = "Issue a profile: keys, the next free tunnel address, and the peer on the gateway.",
        footer = {
            "",
            "  tender profile issue mara phone --gateway pier2",
            "  tender profile issue mara phone --gateway pier2 --full-tunnel --dns 10.20.4.53",
            "  tender profile issue mara laptop --gateway pier2 --public-key KEY   (made on the device)",
            "  tender profile issue mara phone --gateway orrin-fw --listener phones --authority skerrivane",
            "  tender profile issue yara laptop --gateway slip-nas --listener l2tp --account yara.n",
            "  tender profile issue yara phone --gateway orrin-fw --listener phones --make-account"
        })
final class ProfileIssueCommand extends Verb {
    @Parameters(paramLabel = "PERSON")
    String person;

    @Parameters(paramLabel = "DEVICE")
    String device;

    @Option(names = "--gateway", required = true)
    String gateway;

    @Option(names = "--listener", description = "Needed where the gateway has several.")
    Optional<String> listener;

    @Option(names = "--public-key", description = "The device made its own key pair; only this half is needed.")
    Optional<String> publicKey;

    @Option(names = "--full-tunnel", description = "Send everything through the tunnel.")
    boolean fullTunnel;

    @Option(
            names = "--reach",
            split = ",",
            description = "Networks to send through the tunnel. Default: the site's and the tunnel's")
    List<String> reach = List.of();

    @Option(names = "--dns", split = ",", description = "Name servers for the device.")
    List<String> dns = List.of();

    @Option(names = "--address", description = "The tunnel address it gets and keeps. Default: the next free one")
    Optional<String> address;

    @Option(names = "--until", paramLabel = "TIME", description = "When its credentials end. Default: no end")
    Optional<String> until;

    @Option(names = "--account", description = "Who signs in, where the listener asks for an account. Default: PERSON")
    Optional<String> account;

    @Option(
            names = "--make-account",
            description = "Let Tender make an account of its own at the gateway, with a password that is handed out.")
    boolean makeAccount;

    @Option(names = "--authority", description = "Which authority signs, where the gateway does not tell.")
    Optional<String> authority;

    @Option(names = "--reason", description = "Why a broken kind of VPN (PPTP) is handed out all the same.")
    Optional<String> reason;

    @Option(names = "--dry-run", description = "Say what would be issued; write nothing.")
    boolean dryRun;

    @Override
    int run() {
        Calls calls = calls();
        ProfileApi.Issued issued = calls.post(
                "/profiles",
                new ProfileApi.Issue(
                        person,
                        device,
                        gateway,
                        listener,
                        publicKey,
                        fullTunnel ? Optional.of(true) : Optional.empty(),
                        Optional.of(reach),
                        Optional.of(dns),
                        address,
                        until.map(ChangeMakeCommand::time),
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
        if (ProfileCommands.find(calls, issued.profile().label()).instruction().isPresent()) {
            return code;
        }
        terminal.say(
                code == 0
                        ? "  do: tender handout prepare " + issued.profile().label()
                        : "what was in force came back; nothing was left on the gateway");
        return code;
    }
}
