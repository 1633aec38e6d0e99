package tender.standins.device;

import java.io.IOException;
import java.nio.file.Path;
import java.security.PublicKey;
import java.util.List;
import java.util.function.BooleanSupplier;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.file.virtualfs.VirtualFileSystemFactory;
import org.apache.sshd.common.session.Session;
import org.apache.sshd.common.session.SessionListener;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;

/** SSH with commands and SFTP over a folder; whoever the device's own filter keeps out gets no further than the port. */
public final class SshDevice implements AutoCloseable {
    /** Where a device lives and listens; a port of 0 takes a free one. */
    public record Place(Path folder, Path hostKey, String address, int sshPort, String user, PublicKey admits) {}

    private final SshServer ssh = SshServer.setUpDefaultServer();
    private final BooleanSupplier open;

    /** @param open whether the filter lets management in now */
    public SshDevice(Place place, Faults faults, BooleanSupplier open, Command.Shell shell) throws IOException {
        this.open = open;
        SimpleGeneratorHostKeyProvider hostKeys = new SimpleGeneratorHostKeyProvider(place.hostKey());
        hostKeys.setAlgorithm(KeyUtils.EC_ALGORITHM);
        hostKeys.setKeySize(256);
        ssh.setHost(place.address());
        ssh.setPort(place.sshPort());
        ssh.setKeyPairProvider(hostKeys);
        ssh.setPublickeyAuthenticator((user, key, session) -> {
            faults.beforeOperation.accept("connect");
            return user.equals(place.user()) && KeyUtils.compareKeys(key, place.admits());
        });
        ssh.setPasswordAuthenticator(null);
        ssh.setFileSystemFactory(new VirtualFileSystemFactory(place.folder()));
        SftpSubsystemFactory sftp = new SftpSubsystemFactory();
        sftp.addSftpEventListener(new FileOperations(faults));
        ssh.setSubsystemFactories(List.of(sftp));
        ssh.setCommandFactory((channel, command) -> new Command(command, (words, input) -> {
            faults.beforeOperation.accept(words);
            return shell.run(words, input);
        }));
        ssh.addSessionListener(new SessionListener() {
            @Override
            public void sessionCreated(Session session) {
                if (!open.getAsBoolean()) {
                    session.close(true);
                }
            }
        });
        ssh.start();
    }

    public int port() {
        return ssh.getPort();
    }

    /** Cuts those who are connected where the filter does not let them in any more. */
    public void enforce() {
        if (!open.getAsBoolean()) {
            ssh.getActiveSessions().forEach(session -> session.close(true));
        }
    }

    @Override
    public void close() throws IOException {
        ssh.stop(true);
    }
}
