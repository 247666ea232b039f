/**
 * What a recording test in Java is written with, beside the class's own set-up. It is run once and thrown away: `record` does a case twice,
 * each time with a new object, and writes each as a line of JSON. It needs Java 8.
 */
export const RECORDER = `
private interface Ask { Object ask(TYPE subject) throws Throwable; }

private static String quoted(String text) {
	StringBuilder built = new StringBuilder("\\"");
	for (int at = 0; at < text.length(); at++) {
		char one = text.charAt(at);
		if (one == '"' || one == '\\\\') built.append('\\\\').append(one);
		else if (one < 32 || one > 126) built.append(String.format("\\\\u%04x", (int) one));
		else built.append(one);
	}
	return built.append('"').toString();
}

private static String shown(Object value) {
	if (value == null) return "{\\"is\\":\\"nothing\\",\\"text\\":\\"null\\"}";
	String kind = "shown", text;
	if (value instanceof String) { kind = "text"; text = (String) value; }
	else if (value instanceof Boolean) { kind = "boolean"; text = value.toString(); }
	else if (value instanceof Character) { kind = "character"; text = value.toString(); }
	else if (value instanceof Integer || value instanceof Long || value instanceof Short || value instanceof Byte || value instanceof Double || value instanceof Float) { kind = "number"; text = value.toString(); }
	else if (value instanceof Enum) { kind = "constant"; text = String.valueOf(((Enum<?>) value).getDeclaringClass().getCanonicalName()) + "." + ((Enum<?>) value).name(); }
	else if (value.getClass().isArray()) { String all = java.util.Arrays.deepToString(new Object[] { value }); text = all.substring(1, all.length() - 1); }
	else text = String.valueOf(value);
	if (text.length() > 2000 || (kind.equals("shown") && (text.matches("(?s).*@[0-9a-f]{3,8}\\\\b.*") || text.contains("$$Lambda")))) { kind = "object"; text = value.getClass().getSimpleName(); }
	return "{\\"is\\":" + quoted(kind) + ",\\"text\\":" + quoted(text) + "}";
}

private static void write(String line) throws java.io.IOException {
	String file = System.getenv("HOLLOWMOOR_RECORDING");
	if (file != null) java.nio.file.Files.write(java.nio.file.Paths.get(file), (line + "\\n").getBytes(java.nio.charset.StandardCharsets.UTF_8), java.nio.file.StandardOpenOption.CREATE, java.nio.file.StandardOpenOption.APPEND);
}

private static String asked(Ask query, TYPE subject) {
	try { return shown(query.ask(subject)); } catch (Throwable thrown) { return "null"; }
}

private void record(String name, Ask call, Ask... queries) throws java.io.IOException {
	String without = System.getenv("HOLLOWMOOR_RECORDING_WITHOUT");
	if (without != null && ("\\n" + without + "\\n").contains("\\n" + SUBJECT + " " + name + "\\n")) return;
	for (int turn = 0; turn < 2; turn++) {
		write("{\\"subject\\":" + quoted(SUBJECT) + ",\\"begun\\":" + quoted(name) + "}");
		calls.clear();
		TYPE subject;
		try { subject = alone(); }
		catch (Throwable thrown) { write("{\\"subject\\":" + quoted(SUBJECT) + ",\\"name\\":\\"\\",\\"error\\":" + quoted(String.valueOf(thrown)) + "}"); return; }
		StringBuilder line = new StringBuilder("{\\"subject\\":" + quoted(SUBJECT) + ",\\"name\\":" + quoted(name) + ",\\"seen\\":{");
		try { line.append("\\"gives\\":" + shown(call.ask(subject)) + ",\\"throws\\":null"); }
		catch (Throwable thrown) { line.append("\\"gives\\":null,\\"throws\\":{\\"type\\":" + quoted(String.valueOf(thrown.getClass().getCanonicalName())) + ",\\"message\\":" + quoted(String.valueOf(thrown.getMessage())) + "}"); }
		line.append(",\\"calls\\":[");
		for (int at = 0; at < calls.size(); at++) line.append(at > 0 ? "," : "").append("{\\"name\\":" + quoted(calls.get(at)) + ",\\"given\\":[]}");
		line.append("],\\"after\\":[");
		for (int at = 0; at < queries.length; at++) {
			line.append(at > 0 ? "," : "");
			String together = asked(queries[at], subject), byItself = null;
			try { TYPE other = alone(); try { call.ask(other); } catch (Throwable thrown) { /* told above */ } byItself = asked(queries[at], other); } catch (Throwable thrown) { /* it is then not seen */ }
			line.append(together.equals(byItself) ? together : "null");
		}
		write(line.append("]}}").toString());
	}
}
`
