"""Static files under names that change with their content, in the imports of JavaScript modules too."""

from whitenoise.storage import CompressedManifestStaticFilesStorage

_, _module_patterns = CompressedManifestStaticFilesStorage._js_module_import_aggregation_patterns


class ModuleStorage(CompressedManifestStaticFilesStorage):
    """A page of one release never runs a module of another.

    Django's own switch, `support_js_module_import_aggregation`, would read every script of every app, and stumble over those
    that only speak of an import in a comment: only Skavit's modules are read here.
    """

    patterns = (*CompressedManifestStaticFilesStorage.patterns, ("js/*.js", _module_patterns))
