/**
 * What belongs to the user of this machine and to no project: a folder for the program's own state, and a secret key with which the
 * program recognises what it made itself. A project may come from anywhere; what lies here does not. Nothing of a project enters.
 */
package boldanvil.core.user;
