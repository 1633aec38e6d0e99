package tender.service.settings;

/** A setting is out of range; the service does not start. */
public final class SettingsException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    SettingsException(Setting setting, String allowed) {
        super("setting " + setting.key() + ": " + allowed + " is expected (file key " + setting.key() + ", variable "
                + setting.variable() + ")");
    }

    SettingsException(String what) {
        super(what);
    }
}
