"""Every limit of Deft Arc, in one place. What lies beyond is refused with a sentence.

Bytes are bytes, sizes are pixels, times are seconds unless a name says otherwise.
"""

#: Flicks in a second: a published unit of which every usual frame has a whole number. See time.py.
FLICKS = 705_600_000

# Scenes and projects
MAX_NAME = 120
MAX_SCENES = 50
MAX_LAYERS = 1_000
#: How deep scenes lie in each other, and how many layers one shows with those of the scenes in it.
MAX_SCENE_DEPTH = 12
MAX_SHOWN_LAYERS = 5_000
MAX_KEYS_PER_LANE = 20_000
MAX_SIDE = 8_192
MIN_SIDE = 2
#: Pixels of a page's stage that is painted for it.
MAX_STAGE = 36_000_000
MAX_SCENE_FRAMES = 36_000
MAX_FRAME_RATE = 240
#: Parts of one segment of steps; settles and bounces one lane remembers; eases of one's own; their knots.
MAX_STEPS = 1_000
MAX_CRAFTS = 40
MAX_OWN_EASES = 200
MAX_EASE_KNOTS = 400
#: Saved motions of a project, and for all of them; the numbers that one asks for; a file of them.
MAX_MOTIONS = 200
MAX_DIALS = 8
MAX_MOTIONS_BYTES = 24 * 1024 * 1024
#: Samples laid on a lane at once.
MAX_SAMPLES = 20_000
#: No key lies further than this from the scene's start, before or after.
MAX_TIME_SECONDS = 24 * 3_600
#: The same in flicks.
FURTHEST = MAX_TIME_SECONDS * FLICKS
#: No coordinate, size, angle or percentage is larger than this, in its core unit.
MAX_NUMBER = 1e7
#: An outline drawn here has at most so many points, six numbers each.
MAX_OUTLINE_POINTS = 2_000
MAX_BLEND_NUMBERS = 6 * MAX_OUTLINE_POINTS
MAX_CONTOURS = 200
MAX_GUIDES = 200
#: Of a scene, and of a layer.
MAX_MARKERS = 2_000
#: Of one set, and sets of a scene.
MAX_TAKES = 40
MAX_TAKE_SETS = 200
MAX_TIES = 1_000
#: Staggers that a scene remembers.
MAX_STAGGERS = 60
MAX_EFFECTS = 24
#: Of a layer; stops of a gradient; lengths of a list of dashes.
MAX_MASKS = 24
#: Of a layer: particles born over the time that is asked for, seen at a moment, and sent to a page at once.
MAX_BORN = 200_000
MAX_DOTS = 20_000
MAX_DOTS_SENT = 100_000
MAX_STOPS = 16
MAX_DASHES = 16
#: In flicks: how much later anything follows another, or earlier.
MAX_LAG = 600 * FLICKS
#: Artwork of deleted layers that a project keeps for reuse.
MAX_SHELF = 120

# Things brought in
MAX_UPLOAD_BYTES = 40 * 1024 * 1024
#: What is kept of a file to bring it in again after it changed.
MAX_ORIGIN_BYTES = 32 * 1024 * 1024
MAX_SVG_BYTES = 8 * 1024 * 1024
MAX_SVG_NODES = 10_000
MAX_SVG_DEPTH = 60
MAX_UNFOLDED_DEPTH = 100
#: Letters of a value that is no outline, digits of a number, letters of all style sheets.
MAX_SVG_WORD = 4_000
MAX_DIGITS = 400
MAX_SVG_STYLES = 512 * 1024
#: Pairs of a style rule and an element; stops of all gradients as shapes have them; parts of all clip paths in use.
MAX_SVG_MATCHES = 2_000_000
MAX_SVG_STOPS = 100_000
MAX_SVG_CLIPPINGS = 1_500
MAX_OUTLINE_NUMBERS = 500_000
MAX_CSV_BYTES = 4 * 1024 * 1024
MAX_PICTURE_PIXELS = 50_000_000
MAX_PICTURE_SIDE = 16_384
MAX_TEXT = 2_000
MAX_FONT_BYTES = 12 * 1024 * 1024
#: What a font may grow to as it is unpacked.
MAX_FONT_UNPACKED = 48 * 1024 * 1024
MAX_FONTS = 60

#: Pulses of one reaction.
MAX_REACTED = 500

# Project files
MAX_ARCHIVE_FILES = 2_000
MAX_ARCHIVE_BYTES = 400 * 1024 * 1024
#: What all assets of a project may take together, so that its file can always be taken in again.
MAX_PROJECT_ASSETS = 320 * 1024 * 1024
MAX_DOCUMENT_BYTES = 56 * 1024 * 1024
#: Letters of a project's keys and shapes: what is stored here can always be read back from its file.
MAX_PROJECT_TEXT = 48 * 1024 * 1024

# Reading what is brought in: seconds and bytes of memory for a file, and for a project file; how many wait at most
READ_SECONDS = 4.5
READ_PROJECT_SECONDS = 20.0
READ_MEMORY = 450 * 1024 * 1024
MOST_READ = 2
MOST_WAITING = 24

# Requests
MAX_EDIT_BYTES = 4 * 1024 * 1024
MAX_TABLE_NUMBERS = 40_000_000
