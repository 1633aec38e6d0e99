package tender.client.device;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
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
            out.add(
                    Files.exists(Path.of(kept.path()))
                            ? kept
                            : files().stream()
                                    .filter(p -> digest(p).equals(Optional.of(kept.digest())))
                                    .findFirst()
                                    .map(p -> new HeldProfile.Kept(p.toString(), kept.digest()))
                                    .orElse(kept));
        }
        return out;
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
     * Writes a revision. The parts come before the client file, so that it never asks for one that is not there.
     *
     * @param before what was held of it until now
     */
    List<HeldProfile.Kept> write(DeliveredProfile profile, Optional<HeldProfile> before) {
        Path main = before.map(HeldProfile::main)
                .filter(p -> Files.exists(p))
                .orElseGet(() -> free(profile.fileName(), before));
        List<HeldProfile.Kept> parts = new ArrayList<>();
        for (DeliveredProfile.Part part : profile.parts()) {
            parts.add(put(inside(part.name()), part.content(), before));
        }
        List<HeldProfile.Kept> out = new ArrayList<>();
        out.add(put(main, profile.file(), before));
        out.addAll(parts);
        return out;
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

    private HeldProfile.Kept put(Path target, Secret content, Optional<HeldProfile> before) {
        byte[] bytes = content.reveal(RevealSecret.TO_WRITE_FILE);
        String digest = Sha256.hex(bytes);
        Optional<String> there = digest(target);
        boolean asWritten = there.isEmpty()
                || there.get().equals(digest)
                || before.filter(b -> b.files().contains(new HeldProfile.Kept(target.toString(), there.get())))
                        .isPresent();
        if (!asWritten) {
            keepChanged(target);
        }
        if (!there.equals(Optional.of(digest))) {
            PrivateFile.write(target, bytes);
        }
        return new HeldProfile.Kept(target.toString(), digest);
    }

    private static void keepChanged(Path target) {
        try {
            Files.move(
                    target,
                    target.resolveSibling(target.getFileName() + CHANGED),
                    java.nio.file.StandardCopyOption.REPLACE_EXISTING);
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
