package tender.service.settings;

import java.io.IOException;
import java.io.Reader;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.credential.Secret;
import tender.core.network.AddressKinds;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;
import tender.io.alert.Mail;

/** Reads settings from a properties file, overridden by the environment. Nothing is silently corrected. */
public final class SettingsReader {
    private final Properties file;
    private final Map<String, String> environment;

    private SettingsReader(Properties file, Map<String, String> environment) {
        this.file = file;
        this.environment = environment;
    }

    /**
     * Settings from a file, and from the environment, which wins.
     *
     * @throws SettingsException naming the setting that is unknown or has no such value
     */
    public static Settings read(Optional<Path> path, Map<String, String> environment) {
        Properties properties = new Properties();
        path.ifPresent(p -> load(p, properties));
        List<String> known = Arrays.stream(Setting.values()).map(Setting::key).toList();
        for (String key : properties.stringPropertyNames()) {
            if (!known.contains(key)) {
                throw new SettingsException("the settings file has a key that does not exist: " + key);
            }
        }
        return new SettingsReader(properties, environment).settings();
    }

    private static void load(Path path, Properties properties) {
        try (Reader reader = Files.newBufferedReader(path, StandardCharsets.UTF_8)) {
            properties.load(reader);
        } catch (IOException | IllegalArgumentException e) {
            throw new SettingsException("the settings file " + path + " cannot be read");
        }
    }

    private Settings settings() {
        Optional<Path> keystore = optional(Setting.TLS_KEYSTORE, Path::of);
        return new Settings(
                value(Setting.DATA_FOLDER, Path::of).toAbsolutePath().normalize(),
                new Settings.Database(
                        url(),
                        value(Setting.DATABASE_USER, t -> t),
                        secret(Setting.DATABASE_PASSWORD_FILE),
                        optional(Setting.DATABASE_OWNER, t -> t)
                                .map(o -> new Settings.Owner(o, secret(Setting.DATABASE_OWNER_PASSWORD_FILE))),
                        value(Setting.DATABASE_STAFF_USER, t -> t),
                        number(Setting.DATABASE_CONNECTIONS, 4, 200)),
                web(Setting.HTTP_BIND, Setting.HTTP_PORT, Setting.HTTP_BASE_URL),
                web(Setting.STAFF_BIND, Setting.STAFF_PORT, Setting.STAFF_BASE_URL),
                staffRun(),
                keystore.map(k -> new Settings.Tls(k, secret(Setting.TLS_PASSWORD_FILE))),
                networks(Setting.TRUSTED_PROXY),
                optional(Setting.MASTER_KEY_FILE, Path::of),
                optional(Setting.MASTER_KEY_COMMAND, t -> List.of(t.split("\\s+")))
                        .orElse(List.of()),
                optional(Setting.RESOLVER_ADDRESS, SettingsReader::socket),
                networks(Setting.CALLABLE_LOCAL),
                Duration.ofSeconds(number(Setting.WATCH_SECONDS, 1, 3_600)),
                Duration.ofSeconds(number(Setting.NAMES_SECONDS, 1, 3_600)),
                Duration.ofSeconds(number(Setting.GUARD_SECONDS, 3, 900)),
                alerts(),
                optional(Setting.TRIAL_OUTSIDE, SettingsReader::v4),
                value(Setting.SECOND_FACTOR, SettingsReader::flag),
                number(Setting.PASSWORD_MEMORY, 64, 262_144),
                number(Setting.CUSTODY_DAYS, 0, 3_650),
                new Settings.Heads(
                        optional(Setting.JOURNAL_HEAD_FILE, Path::of),
                        optional(Setting.JOURNAL_HEAD_SYSLOG, SettingsReader::socket),
                        value(Setting.JOURNAL_HEAD_MAIL, SettingsReader::flag)),
                optional(Setting.METRICS_ADDRESS, SettingsReader::socket),
                optional(Setting.LOG_FILE, Path::of),
                number(Setting.JOB_WORKERS, 2, 64));
    }

    private static IpAddress v4(String text) {
        IpAddress address = IpAddress.parse(text);
        if (!address.isV4()) {
            throw new MalformedException("address", "", "an IPv4 address");
        }
        return address;
    }

    private Settings.StaffRun staffRun() {
        Settings.StaffRun run = value(Setting.STAFF_RUN, t -> {
            if (!t.equals(t.toLowerCase(Locale.ROOT))) {
                throw new IllegalArgumentException();
            }
            return Settings.StaffRun.valueOf(t.toUpperCase(Locale.ROOT));
        });
        if (run == Settings.StaffRun.APART && text(Setting.STAFF_BASE_URL).isBlank()) {
            throw new SettingsException(
                    Setting.STAFF_BASE_URL, "where the staff's page runs apart, " + Setting.STAFF_BASE_URL.allowed());
        }
        return run;
    }

    private Settings.Ways alerts() {
        Optional<URI> webhook = optional(Setting.ALERT_WEBHOOK, URI::create);
        webhook.ifPresent(uri -> {
            boolean local = "http".equals(uri.getScheme()) && uri.getHost() != null && isLoopback(uri.getHost());
            if (!local && (!"https".equals(uri.getScheme()) || uri.getHost() == null)) {
                throw new SettingsException(Setting.ALERT_WEBHOOK, Setting.ALERT_WEBHOOK.allowed());
            }
        });
        Optional<String> to = optional(Setting.ALERT_MAIL_TO, t -> t);
        Optional<Mail> mail =
                to.isEmpty() && optional(Setting.MAIL_SERVER, t -> t).isEmpty()
                        ? Optional.empty()
                        : Optional.of(value(
                                Setting.MAIL_SERVER,
                                t -> new Mail(
                                        t.substring(0, t.lastIndexOf(':')),
                                        Integer.parseInt(t.substring(t.lastIndexOf(':') + 1)),
                                        value(Setting.MAIL_FROM, from -> from),
                                        value(Setting.MAIL_STARTTLS, SettingsReader::starttls))));
        return new Settings.Ways(webhook, mail, to.orElse(""));
    }

    private static Mail.StartTls starttls(String text) {
        return switch (text) {
            case "required" -> Mail.StartTls.REQUIRED;
            case "offered" -> Mail.StartTls.OFFERED;
            case "none" -> Mail.StartTls.NONE;
            default -> throw new IllegalArgumentException();
        };
    }

    private String text(Setting setting) {
        String fromEnvironment = environment.get(setting.variable());
        return fromEnvironment != null ? fromEnvironment : file.getProperty(setting.key(), setting.fallback());
    }

    private <T> T value(Setting setting, Function<String, T> parse) {
        return optional(setting, parse).orElseThrow(() -> new SettingsException(setting, setting.allowed()));
    }

    private <T> Optional<T> optional(Setting setting, Function<String, T> parse) {
        String text = text(setting).strip();
        if (text.isEmpty()) {
            return Optional.empty();
        }
        try {
            return Optional.of(parse.apply(text));
        } catch (MalformedException | IllegalArgumentException e) {
            throw new SettingsException(setting, setting.allowed());
        }
    }

    private String url() {
        return value(Setting.DATABASE_URL, text -> {
            if (!text.matches("jdbc:postgresql://[A-Za-z0-9.:\\[\\]-]+/[A-Za-z0-9_]+")) {
                throw new IllegalArgumentException();
            }
            return text;
        });
    }

    private int number(Setting setting, int min, int max) {
        int number = value(setting, Integer::parseInt);
        if (number < min || number > max) {
            throw new SettingsException(setting, setting.allowed());
        }
        return number;
    }

    private static boolean flag(String text) {
        if (!text.equals("true") && !text.equals("false")) {
            throw new IllegalArgumentException();
        }
        return text.equals("true");
    }

    private List<Cidr> networks(Setting setting) {
        return optional(
                        setting,
                        text -> Arrays.stream(text.split(","))
                                .map(String::strip)
                                .map(Cidr::parse)
                                .collect(Collectors.toList()))
                .orElse(List.of());
    }

    private Secret secret(Setting setting) {
        Path path = value(setting, Path::of);
        try {
            return Secret.of(Files.readAllLines(path).get(0));
        } catch (IOException | IndexOutOfBoundsException e) {
            throw new SettingsException(setting, "a readable file with a first line");
        }
    }

    private Settings.Web web(Setting bind, Setting port, Setting url) {
        IpAddress address = value(bind, IpAddress::parse);
        Optional<URI> base = optional(url, URI::create);
        base.ifPresent(uri -> check(url, uri));
        boolean loopback = Cidr.parse("127.0.0.0/8").contains(address)
                || Cidr.parse("::1/128").contains(address);
        if (base.isEmpty() && !loopback) {
            throw new SettingsException(url, "beyond loopback the base URL has to be given; " + url.allowed());
        }
        return new Settings.Web(address, number(port, 0, 65_535), base);
    }

    private static void check(Setting setting, URI uri) {
        boolean plainPath = uri.getPath() == null
                || uri.getPath().isEmpty()
                || uri.getPath().equals("/");
        boolean https = "https".equals(uri.getScheme());
        boolean localHttp = "http".equals(uri.getScheme()) && uri.getHost() != null && isLoopback(uri.getHost());
        if (uri.getHost() == null || !plainPath || uri.getUserInfo() != null || !https && !localHttp) {
            throw new SettingsException(setting, setting.allowed());
        }
    }

    private static boolean isLoopback(String host) {
        if (host.equals("localhost")) {
            return true;
        }
        try {
            IpAddress address = IpAddress.parse(host.replaceAll("[\\[\\]]", ""));
            return AddressKinds.isLocalOnly(address)
                    && !Cidr.parse("169.254.0.0/16").overlaps(Cidr.host(address));
        } catch (MalformedException e) {
            return false;
        }
    }

    private static InetSocketAddress socket(String text) {
        int colon = text.lastIndexOf(':');
        try {
            IpAddress address = IpAddress.parse(text.substring(0, colon).replaceAll("[\\[\\]]", ""));
            return new InetSocketAddress(
                    InetAddress.getByAddress(address.toBytes()), Integer.parseInt(text.substring(colon + 1)));
        } catch (IOException | IndexOutOfBoundsException e) {
            throw new IllegalArgumentException(e);
        }
    }
}
