package tender.service.profile;

import java.nio.charset.StandardCharsets;
import java.util.List;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.api.ProfileApi;
import tender.core.credential.RevealSecret;
import tender.core.language.StaffTexts;
import tender.core.profile.MaskedText;
import tender.core.sheet.Platform;
import tender.core.sheet.SettingsSheet;
import tender.core.sheet.SheetHtml;
import tender.core.sheet.SheetText;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;

/** The page for a person who must type a profile's settings in. */
final class SettingsRoutes implements Routes {
    private final ProfileFiles files;
    private final Sheets sheets;

    SettingsRoutes(ProfileFiles files, Sheets sheets) {
        this.files = files;
        this.sheets = sheets;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.get(
                        "/profiles/{id}/inside",
                        Role.READERS,
                        "What stands in a revision, secrets kept back, and the same in words; ?revision=N for another than the newest",
                        ProfileApi.Inside.class,
                        this::inside),
                Route.get(
                        "/profiles/{id}/settings",
                        Role.READERS,
                        "The settings sheet, without secrets; ?form=text, html or pdf, ?platform=windows, apple, android or linux for another than the device's own, ?language=en or de",
                        String.class,
                        this::sheet));
    }

    private Answer inside(Call call) {
        ProfileFiles.Newest chosen = files.revision(
                call.id(), call.query("revision").map(n -> Fields.parse("revision", n, Integer::valueOf)));
        String text = chosen.content().revealText(RevealSecret.TO_WRITE_FILE);
        return Answer.ok(new ProfileApi.Inside(
                chosen.revision().number(),
                chosen.revision().fileName(),
                MaskedText.of(text),
                InspectApi.Report.of(LookedInto.of(chosen, call.now()))));
    }

    private Answer sheet(Call call) {
        ProfileFiles.Newest newest = files.newest(call.id());
        SettingsSheet sheet = sheets.of(
                newest,
                call.query("platform").map(Platform::parse),
                call.query("language").map(StaffTexts::of).orElse(StaffTexts.ENGLISH));
        String stem = newest.revision().fileName().replaceAll("\\.[a-z]+$", "-settings");
        return switch (call.query("form").orElse("text")) {
            case "text" -> file("text/plain; charset=utf-8", stem + ".txt", SheetText.of(sheet));
            case "html" -> file("text/html; charset=utf-8", stem + ".html", SheetHtml.of(sheet));
            case "pdf" -> new Answer.File("application/pdf", stem + ".pdf", SheetPdf.of(SheetHtml.of(sheet)));
            default -> throw new ApiFailure(ProblemCode.MALFORMED, "text, html or pdf", "form");
        };
    }

    private static Answer file(String type, String name, String text) {
        return new Answer.File(type, name, text.getBytes(StandardCharsets.UTF_8));
    }
}
