package tender.client.device;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import tender.api.ProblemCode;
import tender.api.ProvisionApi;
import tender.client.command.CallFailure;
import tender.client.command.PrivateFile;
import tender.io.provision.DeliveredProfile;

/** Brings this device's files to what there is for it, tries them, and tells the service. */
final class Keeping {
    private static final int MAX_FOUND = 110;
    private static final Duration TRY_AGAIN = Duration.ofSeconds(30);

    private static final Comparator<HeldProfile> ORDER =
            Comparator.comparingInt(HeldProfile::position).thenComparing(HeldProfile::label);

    private final Optional<DeviceTrials> trials;
    private final ProfileFolder.Copies copies;
    private final Consumer<String> said;

    /** @param trials empty where files are not to be tried */
    Keeping(Optional<DeviceTrials> trials, ProfileFolder.Copies copies, Consumer<String> said) {
        this.trials = trials;
        this.copies = copies;
        this.said = said;
    }

    /**
     * One round.
     *
     * @param state that the service says: where it is not joined, nothing is held any more
     */
    record Round(String state, Optional<String> problem, List<HeldProfile> held, boolean changed) {}

    /** @param wait seconds that the service may take until something is different */
    Round round(int wait) {
        DeviceState state = DeviceState.require();
        boolean whole = state.held().stream().allMatch(ProfileFolder::isWhole);
        ServiceCalls calls = new ServiceCalls(state.opened().file(), state.signing(), state.enrolment());
        Map<String, String> headers = whole && !state.etag().isEmpty()
                ? Map.of("If-None-Match", "\"" + state.etag() + "\"", "Prefer", "wait=" + wait)
                : Map.of("Prefer", "wait=" + wait);
        ServiceCalls.Reply reply =
                calls.send(new ServiceCalls.Request("GET", "/device", Optional.empty(), headers, wait));
        try (FileChannel lock = lock();
                FileLock held = lock.lock()) {
            return held.isValid() ? applied(calls, reply) : round(0);
        } catch (IOException e) {
            throw CallFailure.of(
                    ProblemCode.CONFLICT, "another tender device keep cannot be waited for: " + e.getMessage());
        }
    }

    /** One process at a time writes; what another one did meanwhile is read again. */
    private static FileChannel lock() throws IOException {
        Path file = PrivateFile.folder().resolve("device.lock");
        Files.createDirectories(file.getParent());
        return FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
    }

    private Round applied(ServiceCalls calls, ServiceCalls.Reply reply) {
        DeviceState state = DeviceState.require();
        if (reply.status() == 304) {
            return tried(calls, state, new Round("joined", Optional.empty(), state.held(), false));
        }
        ProvisionApi.Waiting waiting = reply.as(ProvisionApi.Waiting.class);
        ProfileFolder folder = new ProfileFolder(Path.of(state.folder()));
        boolean over = waiting.state().equals("ended") || waiting.state().equals("left");
        if (!over && !waiting.state().equals("joined")) {
            return new Round(waiting.state(), waiting.problem(), state.held(), false);
        }
        List<HeldProfile> now = new ArrayList<>();
        boolean changed = false;
        for (HeldProfile held : state.held()) {
            HeldProfile here = held.at(folder.found(held));
            if (waiting.profiles().stream()
                    .anyMatch(p -> p.profile().equals(held.profile().toString()))) {
                now.add(here);
            } else {
                folder.remove(here.files()).forEach(p -> said.accept("removed " + p));
                changed = true;
            }
        }
        for (ProvisionApi.Sealed sealed : waiting.profiles()) {
            changed |= take(state, folder, sealed, now);
        }
        boolean differs = changed || !now.equals(state.held()) || !reply.etag().equals(state.etag());
        DeviceState after = differs ? state.holding(now, reply.etag()) : state;
        if (over) {
            ProfileFolder.delete(DeviceState.file());
        } else {
            after.save();
        }
        Round round = new Round(waiting.state(), waiting.problem(), now, changed);
        return over ? round : tried(calls, after, round);
    }

    /** Writes one where it is newer, or is not as it was written; gives whether. */
    private boolean take(DeviceState state, ProfileFolder folder, ProvisionApi.Sealed sealed, List<HeldProfile> now) {
        UUID id = UUID.fromString(sealed.profile());
        Optional<HeldProfile> before =
                now.stream().filter(h -> h.profile().equals(id)).findFirst();
        if (before.filter(b -> b.revision() == sealed.revision() && ProfileFolder.isWhole(b))
                .isPresent()) {
            return false;
        }
        DeliveredProfile profile = opened(state, sealed, id);
        List<Path> others = folder.copies(profile, before);
        if (folder.isLeft(copies, others)) {
            said.accept(profile.label() + " is left as it is: " + others.get(0) + " holds the same key");
            return false;
        }
        List<HeldProfile.Kept> places = folder.places(profile, before);
        now.removeIf(h -> h.profile().equals(id));
        now.add(new HeldProfile(
                id,
                profile.label(),
                profile.gateway(),
                profile.protocol(),
                profile.revision(),
                sealed.position(),
                places,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                copies == ProfileFolder.Copies.REPLACE
                        ? List.of()
                        : others.stream().map(Path::toString).toList()));
        now.sort(ORDER);
        // what is to be there is known before it is written: whoever is cut off here writes it again
        state.holding(now, "").save();
        folder.write(profile, places);
        before.ifPresent(b -> folder.remove(b.files().stream()
                .filter(f -> places.stream().noneMatch(n -> n.path().equals(f.path())))
                .toList()));
        if (copies == ProfileFolder.Copies.REPLACE) {
            others.forEach(p -> ProfileFolder.delete(p).ifPresent(gone -> said.accept("removed the copy " + gone)));
        }
        said.accept(profile.label() + ", revision " + profile.revision() + ": "
                + places.get(0).path());
        return true;
    }

    private static DeliveredProfile opened(DeviceState state, ProvisionApi.Sealed sealed, UUID id) {
        byte[] json = state.sealing()
                .open(
                        DeliveredProfile.place(state.enrolment(), id, sealed.revision()),
                        Base64.getDecoder().decode(sealed.sealed()))
                .orElseThrow(() -> CallFailure.of(
                        ProblemCode.MALFORMED,
                        "what the service sent is not sealed to this device; nothing was written"));
        return DeliveredProfile.read(json);
    }

    /** Tries what was not tried, or did not connect, and reports. A service that does not answer hears it next time. */
    private Round tried(ServiceCalls calls, DeviceState state, Round round) {
        List<HeldProfile> now = new ArrayList<>();
        for (HeldProfile held : round.held()) {
            Instant at = Instant.now();
            if (trials.isPresent() && isDue(held, at)) {
                HeldProfile after = trials.get().of(held, at);
                said.accept(after.label() + " " + after.found().orElse("cannot be tried from here"));
                now.add(after);
            } else {
                now.add(held);
            }
        }
        DeviceState after = now.equals(round.held()) ? state : state.holding(now, state.etag());
        if (after != state) {
            after.save();
        }
        if (!after.reported() && report(calls, now)) {
            after.told().save();
        }
        return new Round(round.state(), round.problem(), now, round.changed());
    }

    /** A revision is tried once; one that did not connect, again after a while. */
    private static boolean isDue(HeldProfile held, Instant now) {
        return held.triedAt().isEmpty()
                || held.works().equals(Optional.of(false))
                        && held.triedAt().get().plus(TRY_AGAIN).isBefore(now);
    }

    private boolean report(ServiceCalls calls, List<HeldProfile> held) {
        try {
            calls.send(new ServiceCalls.Request(
                    "POST",
                    "/device/report",
                    Optional.of(new ProvisionApi.Report(held.stream()
                            .map(h -> new ProvisionApi.Held(
                                    h.profile().toString(),
                                    h.revision(),
                                    h.works(),
                                    h.found().map(f -> f.substring(0, Math.min(MAX_FOUND, f.length())))))
                            .toList())),
                    Map.of(),
                    0));
            return true;
        } catch (CallFailure e) {
            said.accept("not told to the service yet: " + e.getMessage());
            return false;
        }
    }
}
