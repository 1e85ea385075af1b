using System.Net;
using System.Text;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;

namespace DapperLantern.App.Intake.Forms;

/// <summary>A form as HTML to be put into other pages: by itself, without script or style, or as a frame around the public page.</summary>
public static class FormSnippet
{
    /// <param name="address">The public address it posts to.</param>
    public static string Of(FormSheet form, FieldCatalogue catalogue, string address)
    {
        var html = new StringBuilder();
        html.AppendLine(null, $"<form method=\"post\" action=\"{Text(address)}\">");
        foreach (var asked in form.Fields)
            if (catalogue.Find(asked.Key) is { } field)
                html.AppendLine(Field(asked, field, form.Text));
        foreach (var consent in form.Consents)
            html.AppendLine(
                null,
                $"  <label><input type=\"checkbox\" name=\"{FormReader.ConsentName(consent.Purpose)}\" value=\"yes\"{Required(consent.Required)}> {Text(form.Text.Consents.GetValueOrDefault(consent.Purpose, ""))}</label>"
            );
        foreach (var label in form.Labels)
            html.AppendLine(null, $"  <input type=\"hidden\" name=\"{Text(label)}\" value=\"\">");
        html.AppendLine(null, $"  <input name=\"{FormPost.Trap}\" tabindex=\"-1\" autocomplete=\"off\" aria-hidden=\"true\" style=\"position:absolute;left:-10000px\">");
        html.AppendLine(null, $"  <input type=\"hidden\" name=\"_lang\" value=\"{form.Language}\">");
        html.AppendLine(null, $"  <button type=\"submit\">{Text(form.Text.Send)}</button>");
        return html.Append("</form>").ToString();
    }

    public static string Inset(string name, string address) => $"<iframe src=\"{Text(address)}\" title=\"{Text(name)}\" style=\"width:100%;height:760px;border:0\"></iframe>";

    private static string Field(FormField asked, FieldDefinition field, FormText words)
    {
        var label = Text(words.Fields.GetValueOrDefault(field.Key, "") is { Length: > 0 } own ? own : field.Label);
        var named = $"name=\"{field.Key}\"{Required(asked.Required)}";
        if (field.Type is FieldType.Choice or FieldType.YesNo)
            return $"  <label>{label} <select {named}><option value=\"\"></option>{string.Concat(field.Offered().Select(c => $"<option value=\"{Text(c.Key)}\">{Text(c.Label)}</option>"))}</select></label>";
        var kind = field.Type switch
        {
            FieldType.Email => "email",
            FieldType.Phone => "tel",
            FieldType.Date => "date",
            _ => "text",
        };
        return asked.Lines ? $"  <label>{label} <textarea {named}></textarea></label>" : $"  <label>{label} <input type=\"{kind}\" {named}></label>";
    }

    private static string Required(bool required) => required ? " required" : "";

    private static string Text(string text) => WebUtility.HtmlEncode(text);
}
