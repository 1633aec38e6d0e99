package tender.core.office;

import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A client file that somebody has to make at a gateway.
 *
 * @param user what to call the account or certificate there, so that the file is told by it
 * @param renews whether the user is there and gets a new certificate
 */
public record WantedFile(String user, boolean renews) {
    /** What to do at a gateway, for a person to read; empty where nothing is wanted. */
    public static String words(String gateway, Collection<WantedFile> wanted) {
        List<String> fresh =
                wanted.stream().filter(w -> !w.renews).map(WantedFile::user).toList();
        List<String> renewed =
                wanted.stream().filter(WantedFile::renews).map(WantedFile::user).toList();
        if (wanted.isEmpty()) {
            return "";
        }
        return "On " + gateway + ", "
                + (fresh.isEmpty() ? "" : "create " + users(fresh))
                + (fresh.isEmpty() || renewed.isEmpty() ? "" : ", and ")
                + (renewed.isEmpty()
                        ? ""
                        : "make new certificates or keys for " + users(renewed)
                                + " and leave the old ones until the files are handed out")
                + ". Export " + (wanted.size() == 1 ? "the client file" : "a client file for each")
                + " and import " + (wanted.size() == 1 ? "it" : "them, as single files or as one archive") + ".";
    }

    private static String users(List<String> names) {
        return (names.size() == 1 ? "the user " : "the users ")
                + names.stream().sorted().collect(Collectors.joining(", "));
    }
}
