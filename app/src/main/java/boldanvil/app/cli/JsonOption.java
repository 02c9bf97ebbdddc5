package boldanvil.app.cli;

import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;
import tools.jackson.databind.json.JsonMapper;

/** Whether a command prints for people or for programs. */
final class JsonOption {
    @Option(names = "--json", description = "Print the result as JSON.")
    private boolean json;

    @Spec(Spec.Target.MIXEE)
    private CommandSpec spec;

    boolean isJson() {
        return json;
    }

    /** Prints a value as JSON. */
    void print(Object value) {
        spec.commandLine().getOut().println(new JsonMapper().writeValueAsString(value));
    }
}
