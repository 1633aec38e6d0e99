package tender.client.command;

import java.util.List;

/** A thing with its verbs. The table is read instead of annotations, so that a call builds only the commands it needs. */
public record CommandGroup(String name, String description, List<Class<? extends ClientCommand>> verbs) {}
