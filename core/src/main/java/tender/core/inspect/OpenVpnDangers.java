package tender.core.inspect;

import java.util.Set;
import java.util.regex.Pattern;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile.Directive;

/** What a file does beside connecting: programs it runs, code it loads, files it writes, checks it turns off. */
final class OpenVpnDangers {
    private static final Set<String> RUNS = Set.of(
            "up",
            "down",
            "route-up",
            "route-pre-down",
            "ipchange",
            "tls-verify",
            "auth-user-pass-verify",
            "client-connect",
            "client-disconnect",
            "learn-address",
            "client-crresponse",
            "tls-crypt-v2-verify",
            "iproute");
    private static final Set<String> LOADS = Set.of("plugin", "engine", "pkcs11-providers");
    private static final Set<String> WRITES = Set.of(
            "log",
            "log-append",
            "status",
            "writepid",
            "tls-export-cert",
            "replay-persist",
            "memstats",
            "dev-node",
            "ifconfig-pool-persist",
            "cd",
            "chroot",
            "genkey",
            "tmp-dir");
    private static final Set<String> OWN_FILES = Set.of(
            "ca",
            "cert",
            "key",
            "pkcs12",
            "tls-auth",
            "tls-crypt",
            "tls-crypt-v2",
            "secret",
            "crl-verify",
            "extra-certs",
            "dh");

    /** Variables by which the system, shells and interpreters find code. */
    private static final Pattern LOADER = Pattern.compile(
            "(?i)path|(ld|dyld)_.*|ifs|env|bash_env|shellopts|.*(path|preload|lib|home|modules|engines)|openssl_.*|perl5.*"
                    + "|python.*|ruby.*|node_.*|gconv_.*|nlspath|resolv_.*|tmpdir|pathext|comspec|systemroot|windir");

    private OpenVpnDangers() {}

    static void note(OpenVpnClient file, Inspection.Draft draft) {
        for (Directive d : file.file().directives()) {
            String words = d.name() + (d.block().isPresent() ? "" : " " + String.join(" ", d.words()));
            if (RUNS.contains(d.name())) {
                draft.note(Hint.RUNS_PROGRAM, d.line(), words);
            } else if (LOADS.contains(d.name())
                    || d.name().equals("providers")
                            && !Set.of("legacy", "default").containsAll(d.words())) {
                draft.note(Hint.LOADS_CODE, d.line(), words);
            } else if (WRITES.contains(d.name())) {
                draft.note(Hint.WRITES_FILE, d.line(), words);
            } else if (d.name().equals("setenv")
                    && d.word(0).filter(w -> LOADER.matcher(w).matches()).isPresent()) {
                draft.note(Hint.SETS_VARIABLE, d.line(), words);
            } else if (d.name().equals("script-security")
                    && d.word(0)
                            .filter(w -> w.matches("[1-9]\\d*") && !w.equals("1"))
                            .isPresent()) {
                draft.note(Hint.SCRIPTS_ALLOWED, d.line(), words);
            } else if (d.name().equals("management")) {
                draft.note(Hint.OPENS_CONTROL, d.line(), words);
            } else if (d.name().equals("config")) {
                draft.note(Hint.READS_OTHER, d.line(), words);
            } else if (isCheckOff(d)) {
                draft.note(Hint.CHECK_OFF, d.line(), words);
            } else if (d.name().equals("auth-user-pass") && d.block().isPresent()) {
                draft.note(Hint.PASSWORD_INSIDE, d.line(), "");
            } else if (d.name().equals("auth-user-pass") && d.word(0).isPresent()
                    || d.name().equals("askpass") && d.word(0).isPresent()) {
                draft.note(Hint.PASSWORD_INSIDE, d.line(), words);
            } else if (!OWN_FILES.contains(d.name())
                    && OpenVpnClient.successor(d).isPresent()) {
                draft.note(Hint.DEPRECATED, d.line(), words);
            }
        }
    }

    private static boolean isCheckOff(Directive d) {
        return switch (d.name()) {
            case "no-replay", "no-iv", "allow-deprecated-insecure-static-crypto" -> true;
            case "tls-cert-profile" ->
                d.word(0)
                        .filter(w -> w.equals("insecure") || w.equals("legacy"))
                        .isPresent();
            default -> false;
        };
    }
}
