package tender.standins.device;

import java.nio.file.CopyOption;
import java.nio.file.Path;
import java.util.Collection;
import org.apache.sshd.server.session.ServerSession;
import org.apache.sshd.sftp.server.FileHandle;
import org.apache.sshd.sftp.server.Handle;
import org.apache.sshd.sftp.server.SftpEventListener;

/** Announces file operations by name, so that tests can hold the router at any of them. */
final class FileOperations implements SftpEventListener {
    private final Faults faults;

    FileOperations(Faults faults) {
        this.faults = faults;
    }

    @Override
    public void opening(ServerSession session, String remoteHandle, Handle localHandle) {
        String name = localHandle.getFile().getFileName() == null
                ? ""
                : localHandle.getFile().getFileName().toString();
        boolean isFile = localHandle instanceof FileHandle;
        faults.beforeOperation.accept(
                name.endsWith(".lock") ? "lock" : name.endsWith(".new") ? "write" : isFile ? "read" : "list");
    }

    @Override
    public void moving(ServerSession session, Path source, Path target, Collection<CopyOption> options) {
        faults.beforeOperation.accept("rename");
    }

    @Override
    public void removing(ServerSession session, Path path, boolean isDirectory) {
        faults.beforeOperation.accept("unlock");
    }
}
