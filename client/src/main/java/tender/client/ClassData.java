package tender.client;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import tender.api.HandoutApi;
import tender.api.OfficeApi;
import tender.api.PersonApi;
import tender.api.ProfileApi;
import tender.api.TrialApi;
import tender.api.WatchApi;

/** Loads what the usual commands load, while the build writes the class-data archive. */
@Command(name = "class-data", hidden = true)
final class ClassData extends Verb {
    private static final byte[] EMPTY_PAGE = "{\"items\":[],\"next\":null}".getBytes(StandardCharsets.UTF_8);
    private static final byte[] NOTHING = "{}".getBytes(StandardCharsets.UTF_8);

    @Override
    int run() {
        for (Class<?> item : List.of(
                ProfileApi.Profile.class,
                WatchApi.Session.class,
                WatchApi.Backup.class,
                OfficeApi.Gateway.class,
                PersonApi.Person.class)) {
            Json.page(EMPTY_PAGE, item);
        }
        for (Class<?> one : List.of(TrialApi.Trial.class, WatchApi.Overview.class, HandoutApi.Prepared.class)) {
            Json.read(NOTHING, one);
        }
        terminal.print(Main.line("profile").getUsageMessage());
        terminal.json(Json.page(EMPTY_PAGE, WatchApi.Job.class));
        terminal.table(List.of("A", "B"), List.of(List.of("1", "2")), "");
        try {
            new Calls("http://127.0.0.1:1", Optional.of("none")).post("/none", new TrialApi.Start("none"), null);
        } catch (CallFailure e) {
            terminal.say(e.getMessage());
        }
        return 0;
    }
}
