"""Print the package's copyright file: the program, then every library and its licence files."""

from importlib.metadata import distributions

PREFIX = "usr/lib/zinc-margin/lib/python3.13/site-packages"

print("""Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/
Upstream-Name: Zinc Margin
Source: https://zinc-margin.example/

Files: *
Copyright: Zinc Margin
License: GPL-3.0-or-later
 On Debian systems, the whole licence is in /usr/share/common-licenses/GPL-3.

Files: usr/lib/zinc-margin/lib/python3.13/site-packages/zinc_margin/fonts/*
Copyright: Adobe
License: OFL-1.1
 The whole licence is in the same folder, in LICENSE-source-sans.md and LICENSE-source-serif.md.""")
for one in sorted(distributions(), key=lambda each: each.metadata["Name"].lower()):
    about = one.metadata
    name = about["Name"]
    stated = about.get("License-Expression") or (about.get("License") or "").splitlines()[:1]
    kind = stated if isinstance(stated, str) else (stated or ["see its files"])[0]
    tops = sorted({str(file).split("/")[0] for file in one.files or [] if ".." not in str(file)})
    places = [
        f"{PREFIX}/{top}" + ("" if top.endswith((".py", ".so", ".pth")) else "/*") for top in tops
    ]
    licences = sorted(
        str(file)
        for file in one.files or []
        if "dist-info" in str(file)
        and any(word in file.name.lower() for word in ("licen", "copying", "notice", "author"))
    )
    print(f"\nFiles: {(chr(10) + ' ').join(places)}")
    print(f"Copyright: the authors of {name}, {about.get('Home-page') or about['Version']}")
    print(f"License: {'-'.join((kind.strip() or 'see its files').split())}")
    print(f" {name} {about['Version']}. Its licence files:")
    for licence in licences or ["in its METADATA"]:
        print(f"  {licence}")
