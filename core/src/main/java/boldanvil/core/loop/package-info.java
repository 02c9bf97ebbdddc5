/**
 * A control loop, taken from the sheets: {@code Linearisation} opens it at a wire and finds what goes around it as a linear system,
 * exactly, by differentiating the IR while it runs. In go a project, a rig and a place; out comes an {@code OpenLoop} for {@code linear}.
 * No interface code, and nothing that writes a project.
 */
package boldanvil.core.loop;
