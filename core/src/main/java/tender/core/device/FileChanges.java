package tender.core.device;

import java.security.SecureRandom;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.DeviceChange;
import tender.core.office.FirewallChange;
import tender.core.office.ListenerChange;
import tender.core.wire.MalformedException;

/** What changes do to a device's files: only the lines that are meant, everything else byte for byte. */
public final class FileChanges {
    private FileChanges() {}

    /**
     * The files that differ afterwards, by path without the leading slash.
     *
     * @param device what the files say now
     * @param random for keys that a change needs
     * @return a missing value for a file that goes
     */
    public static Map<String, Optional<byte[]>> of(
            DeviceDescription description,
            Map<String, byte[]> files,
            Device device,
            List<Change> changes,
            SecureRandom random) {
        EditedFiles work = new EditedFiles(description, files, random);
        Device now = device;
        for (Change change : changes) {
            Device next = change.applyTo(now);
            change.match(new Writing(description, work, now, next));
            now = next;
        }
        Map<String, Optional<byte[]>> out = new LinkedHashMap<>();
        work.all().forEach((path, content) -> {
            if (!java.util.Arrays.equals(content, files.get(path))) {
                out.put(path, Optional.of(content));
            }
        });
        files.keySet().stream().filter(p -> !work.all().containsKey(p)).forEach(p -> out.put(p, Optional.empty()));
        return out;
    }

    /** What a change does to the files, kind by kind. */
    private record Writing(DeviceDescription description, EditedFiles device, Device now, Device next)
            implements Change.Cases<Void> {
        @Override
        public Void of(ListenerChange.SetListener set) {
            set.values().forEach((attribute, value) -> device.set(set.listener(), attribute, value));
            return null;
        }

        @Override
        public Void of(ListenerChange.AddListener add) {
            if (!description.beside()) {
                throw new MalformedException(
                        "listener", add.name(), "this kind of device cannot put a listener beside another");
            }
            EditedFiles.Place from = device.place(add.listener());
            if (device.all().containsKey(from.rule().pathOf(add.name()).substring(1))
                    || from.rule().path().indexOf('*') < 0) {
                throw new MalformedException(
                        "listener", add.name(), "this device has no room for a listener of this name");
            }
            // it shares the keys and all settings but those given, so that both serve the same people
            device.all()
                    .put(
                            from.rule().pathOf(add.name()).substring(1),
                            device.all().get(from.path()));
            add.values().forEach((attribute, value) -> device.set(add.name(), attribute, value));
            return null;
        }

        @Override
        public Void of(ListenerChange.RemoveListener remove) {
            device.all().remove(device.place(remove.listener()).path());
            return null;
        }

        private Void forwards() {
            device.records(
                    "forward", next.forwards().stream().map(LineRecords::values).toList());
            return null;
        }

        @Override
        public Void of(FirewallChange.PutForward change) {
            return forwards();
        }

        @Override
        public Void of(FirewallChange.DropForward change) {
            return forwards();
        }

        private Void rules() {
            device.records(
                    "rule",
                    next.filter().rules().stream().map(LineRecords::values).toList());
            return null;
        }

        @Override
        public Void of(FirewallChange.PutRule change) {
            return rules();
        }

        @Override
        public Void of(FirewallChange.ReplaceRule change) {
            return rules();
        }

        @Override
        public Void of(FirewallChange.DropRule change) {
            return rules();
        }

        @Override
        public Void of(FirewallChange.MoveRule change) {
            return rules();
        }

        @Override
        public Void of(DeviceChange.Demote demote) {
            device.demote(demote.account(), next);
            return null;
        }

        /** A command, not a file. */
        @Override
        public Void of(DeviceChange.SetClock change) {
            return null;
        }

        /** A command, not a file. */
        @Override
        public Void of(DeviceChange.Reload change) {
            return null;
        }

        @Override
        public Void of(DeviceChange.PutNetwork put) {
            device.network(now, put.network());
            return null;
        }

        @Override
        public Void of(DeviceChange.SetZone zone) {
            device.pair("zone", "", Optional.of(zone.zone()));
            return null;
        }

        private Void noAuthority() {
            throw new MalformedException("authority", "", "this kind of device has no authority of its own to ask");
        }

        @Override
        public Void of(ListenerChange.RenewCertificate change) {
            return noAuthority();
        }

        @Override
        public Void of(ListenerChange.RenewRevocations change) {
            return noAuthority();
        }

        @Override
        public Void of(ListenerChange.UseCertificate change) {
            return noAuthority();
        }

        @Override
        public Void of(ListenerChange.PutRevocations change) {
            return noAuthority();
        }
    }
}
