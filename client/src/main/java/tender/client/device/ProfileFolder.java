package tender.client.device;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.PrivateFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.profile.CopyMark;
import tender.core.wire.Sha256;
import tender.io.provision.DeliveredProfile;

/**
 * The folder with this device's profiles. A file keeps the name that its user gave it, what they changed in it is kept beside it, and
 * other files with the same key are found.
 */
final class ProfileFolder {
    private static final int MAX_FILES = 1_000;
    private static final long MAX_LOOKED_INTO = 256 * 1024;
    private static final String CHANGED = ".changed-here";

    private final Path folder;

    ProfileFolder(Path folder) {
        this.folder = folder.toAbsolutePath().normalize();
    }

    /** What is done about other files that hold the key of a profile. */
    enum Copies {
        /** Removed, once the newest revision is there. */
        REPLACE,
        /** Both stay. */
        KEEP,
        /** The copy stays, and no file is written. */
        LEAVE
    }

    /** Whether nothing is written for a profile, as a copy of it is to stay alone. */
    boolean isLeft(Copies copies, List<Path> found) {
        return copies == Copies.LEAVE && !found.isEmpty();
    }

    /** Files in the folder that hold the same key or certificate and are not ours. */
    List<Path> copies(DeliveredProfile profile, Optional<HeldProfile> before) {
        Optional<String> mark = CopyMark.of(profile.file().revealText(RevealSecret.TO_READ));
        Set<Path> ours = new HashSet<>();
        before.ifPresent(b -> b.files().forEach(f -> ours.add(Path.of(f.path()))));
        ours.add(folder.resolve(profile.fileName()));
        return mark.isEmpty()
                ? List.of()
                : files().stream()
                        .filter(p -> !ours.contains(p)
                                && text(p).flatMap(CopyMark::of).equals(mark))
                        .toList();
    }

    private List<Path> files() {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> all = Files.list(folder)) {
            return all.filter(Files::isRegularFile).limit(MAX_FILES).sorted().toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Optional<String> text(Path file) {
        try {
            return Files.size(file) > MAX_LOOKED_INTO
                    ? Optional.empty()
                    : Optional.of(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1));
        } catch (IOException e) {
            return Optional.empty(); // somebody else's
        }
    }

    /** The files of a profile where they are now: one that was renamed here is found by what was written into it. */
    List<HeldProfile.Kept> found(HeldProfile held) {
        List<HeldProfile.Kept> out = new ArrayList<>();
        for (HeldProfile.Kept kept : held.files()) {
            out.add(Files.exists(Path.of(kept.path())) ? kept : renamed(kept).orElse(kept));
        }
        return out;
    }

    private Optional<HeldProfile.Kept> renamed(HeldProfile.Kept kept) {
        return files().stream()
                .filter(p -> digest(p).filter(kept::isOurs).isPresent())
                .findFirst()
                .map(p -> new HeldProfile.Kept(p.toString(), kept.digest(), kept.before()));
    }

    /** Whether all files of a profile are there as they were written. */
    static boolean isWhole(HeldProfile held) {
        return held.files().stream().allMatch(f -> digest(Path.of(f.path())).equals(Optional.of(f.digest())));
    }

    private static Optional<String> digest(Path file) {
        try {
            return Files.isRegularFile(file) ? Optional.of(Sha256.hex(Files.readAllBytes(file))) : Optional.empty();
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    /**
     * Where a revision's files go, the client file first.
     *
     * @param before what was held of it until now
     */
    List<HeldProfile.Kept> places(DeliveredProfile profile, Optional<HeldProfile> before) {
        Path main =
                before.map(HeldProfile::main).filter(Files::exists).orElseGet(() -> free(profile.fileName(), before));
        List<HeldProfile.Kept> out = new ArrayList<>();
        out.add(place(main, profile.file(), before));
        profile.parts().forEach(p -> out.add(place(inside(p.name()), p.content(), before)));
        return out;
    }

    private static HeldProfile.Kept place(Path target, Secret content, Optional<HeldProfile> before) {
        Optional<String> ours = digest(target)
                .filter(there -> before.filter(b ->
                                b.files().stream().anyMatch(f -> f.path().equals(target.toString()) && f.isOurs(there)))
                        .isPresent());
        return new HeldProfile.Kept(target.toString(), Sha256.hex(content.reveal(RevealSecret.TO_WRITE_FILE)), ours);
    }

    /** Writes a revision to its places. The parts come before the client file, so that it never asks for one that is not there. */
    void write(DeliveredProfile profile, List<HeldProfile.Kept> places) {
        for (int i = 0; i < profile.parts().size(); i++) {
            put(places.get(i + 1), profile.parts().get(i).content());
        }
        put(places.get(0), profile.file());
    }

    /** A file of somebody else's is not written over. */
    private Path free(String name, Optional<HeldProfile> before) {
        Path wanted = inside(name);
        boolean ours = before.filter(
                        b -> b.files().stream().anyMatch(f -> f.path().equals(wanted.toString())))
                .isPresent();
        Path out = wanted;
        for (int i = 2; !ours && Files.exists(out); i++) {
            int dot = name.lastIndexOf('.');
            out = inside(
                    name.substring(0, dot < 0 ? name.length() : dot) + "-" + i + (dot < 0 ? "" : name.substring(dot)));
        }
        return out;
    }

    private Path inside(String name) {
        Path target = folder.resolve(name).normalize();
        if (!target.startsWith(folder) || target.equals(folder)) {
            throw CallFailure.of(ProblemCode.MALFORMED, "a file has a name that leads outside the folder");
        }
        return target;
    }

    /** What is there and was not written by this device is kept beside it. */
    private static void put(HeldProfile.Kept place, Secret content) {
        Path target = Path.of(place.path());
        Optional<String> there = digest(target);
        if (there.filter(t -> !place.isOurs(t)).isPresent()) {
            keepChanged(target);
        }
        if (!there.equals(Optional.of(place.digest()))) {
            PrivateFile.write(target, content.reveal(RevealSecret.TO_WRITE_FILE));
        }
    }

    private static void keepChanged(Path target) {
        try {
            Files.move(
                    target, target.resolveSibling(target.getFileName() + CHANGED), StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Removes files of a profile, with what an interrupted write left; gives those that were there. */
    List<Path> remove(List<HeldProfile.Kept> files) {
        List<Path> out = new ArrayList<>();
        for (HeldProfile.Kept kept : files) {
            Path file = Path.of(kept.path());
            delete(file).ifPresent(out::add);
            delete(file.resolveSibling(file.getFileName() + PrivateFile.UNFINISHED))
                    .ifPresent(out::add);
            delete(file.resolveSibling(file.getFileName() + CHANGED)).ifPresent(out::add);
            emptied(file.getParent());
        }
        return out;
    }

    static Optional<Path> delete(Path file) {
        try {
            return Files.deleteIfExists(file) ? Optional.of(file) : Optional.empty();
        } catch (IOException e) {
            throw new UncheckedIOException(file + " cannot be removed", e);
        }
    }

    private void emptied(Path at) {
        try {
            if (at != null && at.startsWith(folder) && !at.equals(folder)) {
                Files.deleteIfExists(at);
            }
        } catch (IOException e) {
            return; // something of somebody else's is in it
        }
    }
}
