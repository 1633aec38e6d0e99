package tender.client.trial;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.ike.IkeSettings;
import tender.core.network.Cidr;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.ClientRules;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SecretsInside;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Claims;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.IkeSeen;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Observation;
import tender.core.trial.ObservedSettings;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Question;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;
import tender.io.names.NameService;
import tender.io.trial.IkeTrial;
import tender.io.trial.OpenVpnCalls;
import tender.io.trial.WireGuardTrial;

/** A trial from this machine of a profile that has all its parts inside. */
public record TextTrial(
        String text,
        Optional<IpAddress> insideHost,
        NameService names,
        ClientSettings.Added added,
        MeasurementOptions wanted) {
    /**
     * What came of it, and what was measured where it was asked for.
     *
     * @param reach networks behind the tunnel
     * @param observed what it saw of the listener's settings
     */
    public record Outcome(
            Ladder ladder, Optional<Measured> measured, List<Cidr> reach, Map<Attribute, String> observed) {}

    /** What an outcome shows of what was asked. */
    public Claims claims(Outcome outcome) {
        return Claims.of(outcome.ladder(), insideHost, wanted, outcome.measured())
                .refused(refusal());
    }

    /** Why the program that the file is for refuses it. */
    Optional<ParseProblem> refusal() {
        return ClientRules.refusal(text);
    }

    /** Makes it; no secret of the file is in what comes of it, wherever it stood in the file. */
    public Outcome run() {
        SecretsInside secrets = SecretsInside.of(text);
        try {
            Outcome outcome = made();
            return new Outcome(
                    outcome.ladder().told(secrets::hidden), outcome.measured(), outcome.reach(), outcome.observed());
        } catch (MalformedException unread) {
            // what its program refuses comes first: a passphrase would not help
            MalformedException e = refusal()
                    .map(r -> new MalformedException("refused", r.line() > 0 ? "line " + r.line() : "", r.what()))
                    .orElse(unread);
            throw new MalformedException(e.code(), secrets.hidden(e.place()), secrets.hidden(e.what()));
        }
    }

    private Outcome made() {
        if (IkeProfile.looksLike(text)) {
            return ike();
        }
        return OpenVpnClient.looksLike(OpenVpnFile.read(text).file()) ? openVpn() : wireGuard();
    }

    private Outcome ike() {
        IkeQuestion question = IkeQuestion.of(
                text,
                new IkeSettings.Added(
                        added.login().map(ClientSettings.Login::name).filter(n -> !n.isEmpty()),
                        added.login().map(ClientSettings.Login::password)),
                Optional.empty(),
                insideHost,
                Instant.now());
        IkeTrial trial = new IkeTrial(question, names, wanted, rung -> {});
        IkeSeen seen = trial.run();
        return new Outcome(
                IkeLadder.judge(question, seen, Optional.empty()),
                trial.measured(),
                seen.reach(),
                ObservedSettings.of(seen));
    }

    private Outcome openVpn() {
        OpenVpnCalls made = OpenVpnCalls.run(
                OpenVpnQuestion.all(text, added, insideHost, Optional.empty(), Instant.now()),
                names,
                wanted,
                rung -> {});
        return new Outcome(
                OpenVpnLadder.judge(made.question(), made.seen(), Optional.empty()),
                made.measured(),
                made.question().reach(made.seen().pushed()),
                ObservedSettings.of(made.seen()));
    }

    private Outcome wireGuard() {
        Question question = Question.of(WireGuardFile.read(text).file(), Optional.empty(), insideHost);
        WireGuardTrial trial = new WireGuardTrial(question, names, wanted, rung -> {});
        Observation seen = trial.run();
        Ladder ladder = Ladder.judge(question, seen, Optional.empty());
        return new Outcome(
                ladder,
                trial.measured(),
                question.reach().stream().map(InterfaceAddress::network).toList(),
                ObservedSettings.of(seen));
    }
}
