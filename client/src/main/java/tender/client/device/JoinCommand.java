package tender.client.device;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.ProvisionApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.LocalFiles;
import tender.core.credential.Secret;
import tender.core.provision.SealingKey;
import tender.core.provision.SigningKey;
import tender.core.provision.VerifyingKey;
import tender.core.wire.MalformedException;
import tender.io.provision.ProvisioningFile;

/** This device joins with a provisioning file. */
@Command(
        name = "join",
        mixinStandardHelpOptions = true,
        description = {
            "This device joins with a provisioning file: it makes its own key, signs in as the file asks, and gets its profiles. It needs no"
                    + " account.",
            "Compare the signer's fingerprint with what you were told another way than the file. Done again after an interruption, it goes on."
        },
        footer = {
            "",
            "  tender device join mara-laptop.tender",
            "  tender device join crew.tender --person mara --name laptop --signer SHA256:…",
            "",
            "Exit code 1 if the file is refused or a profile does not connect, 3 if no service answers."
        })
final class JoinCommand extends ClientCommand {
    private static final Duration PATIENCE = Duration.ofSeconds(60);
    private static final int WAIT_SECONDS = 10;

    @Parameters(paramLabel = "FILE", description = "The provisioning file, NAME.tender.")
    Path file;

    @Option(
            names = "--signer",
            paramLabel = "FINGERPRINT",
            description = "What you were told; asked for where it is missing.")
    Optional<String> signer;

    @Option(names = "--person", paramLabel = "HANDLE", description = "Who you are, where the file is a whole team's.")
    Optional<String> person;

    @Option(
            names = "--name",
            description = "What this device is called, where the file does not say. Default: this machine's name")
    Optional<String> name;

    @Option(names = "--code-fd", paramLabel = "N", description = "Read the code from this file descriptor.")
    Optional<Integer> codeFd;

    @Option(names = "--folder", description = "Folder for the profiles. Default: tender-profiles in your home folder")
    Optional<Path> folder;

    @Mixin
    KeepOptions keep;

    @Override
    protected int run() {
        String text = new String(LocalFiles.read(file), StandardCharsets.UTF_8);
        ProvisioningFile.Signed opened = read(text);
        Optional<DeviceState> before = DeviceState.load();
        if (before.filter(DeviceState::joined).isPresent()) {
            throw CallFailure.of(
                    ProblemCode.CONFLICT,
                    "this device has joined already as " + before.get().device()
                            + "; tender device leave ends that first");
        }
        accept(opened, before);
        ProvisioningFile f = opened.file();
        Optional<String> who = f.person().isPresent() || person.isPresent() ? person : asked(f);
        Optional<Secret> code =
                f.asksCode() ? Optional.of(terminal.secret("code that you were told", codeFd)) : Optional.empty();
        // what was begun with this file goes on with the same key, so that its token still counts
        DeviceState state = before.filter(s -> s.provision().equals(text)).orElseGet(() -> begun(text));
        state.save();
        ProvisionApi.Joined joined = new ServiceCalls(f, state.signing(), state.enrolment())
                .send(new ServiceCalls.Request(
                        "POST",
                        "/device",
                        Optional.of(new ProvisionApi.Join(
                                f.token(),
                                who,
                                code,
                                name.orElseGet(JoinCommand::machine),
                                system(),
                                Base64.getUrlEncoder()
                                        .withoutPadding()
                                        .encodeToString(state.sealing().publicBytes()))),
                        Map.of(),
                        0))
                .as(ProvisionApi.Joined.class);
        state.as(joined.device()).save();
        terminal.say("joined as " + joined.device() + "; waiting for the profiles");
        return first();
    }

    /** The altered and the ended are told apart before anything is sent. */
    private static ProvisioningFile.Signed read(String text) {
        ProvisioningFile.Signed opened;
        try {
            opened = ProvisioningFile.read(text);
        } catch (MalformedException e) {
            throw CallFailure.of(
                    ProblemCode.CONFLICT,
                    "the provisioning file " + (e.place().isEmpty() ? "" : e.place() + " ") + e.what());
        }
        if (opened.file().ends().isBefore(Instant.now())) {
            throw CallFailure.of(
                    ProblemCode.CONFLICT,
                    "the provisioning file ended at " + opened.file().ends() + "; ask for a new one");
        }
        return opened;
    }

    private void accept(ProvisioningFile.Signed opened, Optional<DeviceState> before) {
        VerifyingKey key = opened.signer();
        ProvisioningFile f = opened.file();
        terminal.say("for     "
                + f.team()
                        .map(t -> "team " + t)
                        .orElseGet(
                                () -> f.person().orElse("") + "/" + f.device().orElse("")));
        terminal.say("service " + f.services().stream().map(Object::toString).collect(Collectors.joining(", ")));
        terminal.say("signer  " + key.fingerprint());
        if (signer.isPresent()) {
            if (!key.isToldAs(signer.get())) {
                throw CallFailure.of(
                        ProblemCode.CONFLICT,
                        "the provisioning file is signed by somebody else than you were told: " + key.fingerprint());
            }
            return;
        }
        boolean known = before.map(DeviceState::opened)
                .filter(o -> o.signer().equals(key))
                .isPresent();
        if (known) {
            return;
        }
        if (System.console() == null) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED,
                    "say which signer you were told, another way than the file: --signer FINGERPRINT");
        }
        if (!terminal.confirmed("Is this fingerprint what you were told?", false)) {
            throw CallFailure.of(ProblemCode.CONFLICT, "the signer was not confirmed; nothing was sent");
        }
    }

    private Optional<String> asked(ProvisioningFile f) {
        if (f.team().isEmpty()) {
            return Optional.empty();
        }
        throw CallFailure.of(
                ProblemCode.MALFORMED, "the file is for team " + f.team().get() + ": say who you are: --person HANDLE");
    }

    private DeviceState begun(String text) {
        SecureRandom random = new SecureRandom();
        return DeviceState.begun(
                UUID.randomUUID(),
                SigningKey.generate(random),
                SealingKey.generate(random),
                text,
                folder.orElse(Path.of(System.getProperty("user.home"), "tender-profiles")));
    }

    private static String machine() {
        return Stream.of(System.getenv("HOSTNAME"), System.getenv("COMPUTERNAME"))
                .filter(n -> n != null && !n.isBlank())
                .map(n -> n.toLowerCase(java.util.Locale.ROOT)
                        .replaceAll("\\..*$", "")
                        .replaceAll("[^a-z0-9-]", "-"))
                .findFirst()
                .orElse("device");
    }

    private static String system() {
        return System.getProperty("os.name") + " " + System.getProperty("os.version");
    }

    private int first() {
        Keeping keeping = keep.keeping(terminal);
        Instant end = Instant.now().plus(PATIENCE);
        Keeping.Round round = keeping.round(WAIT_SECONDS);
        while (round.held().isEmpty()
                && !round.state().equals("failed")
                && Instant.now().isBefore(end)) {
            Calls.pause();
            round = keeping.round(WAIT_SECONDS);
        }
        if (round.state().equals("failed")) {
            throw CallFailure.of(
                    ProblemCode.CONFLICT,
                    "the profiles cannot be made: " + round.problem().orElse("") + "; ask who gave you the file");
        }
        terminal.say(
                round.held().isEmpty()
                        ? "there is no profile yet; it comes with: tender device keep"
                        : "kept current by: tender device keep --stay, or from a timer: tender device keep --schedule systemd");
        return StatusCommand.show(terminal, round.held());
    }
}
