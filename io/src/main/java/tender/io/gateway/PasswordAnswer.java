package tender.io.gateway;

import java.util.List;
import org.apache.sshd.client.auth.keyboard.UserInteraction;
import org.apache.sshd.client.session.ClientSession;

/** Answers the one hidden question of keyboard-interactive (RFC 4256) with the password; anything else is left without an answer. */
record PasswordAnswer(String password) implements UserInteraction {
    @Override
    public boolean isInteractionAllowed(ClientSession session) {
        return true;
    }

    @Override
    public String[] interactive(
            ClientSession session, String name, String instruction, String lang, String[] prompt, boolean[] echo) {
        return prompt.length == 0 ? new String[0] : prompt.length == 1 && !echo[0] ? new String[] {password} : null;
    }

    @Override
    public void serverVersionInfo(ClientSession session, List<String> lines) {
        // banners are the device's business
    }

    @Override
    public String getUpdatedPassword(ClientSession session, String prompt, String lang) {
        return null; // a password that has to be changed is changed by a person
    }
}
