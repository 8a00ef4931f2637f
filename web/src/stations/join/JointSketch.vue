<script setup lang="ts">
/** A small drawing of a kind of joint: which measure is which. */
defineProps<{ kind: string }>()
</script>

<template>
  <svg class="sketch" viewBox="0 0 268 92" role="img" :aria-label="`What the measures of a ${kind} mean`">
    <defs>
      <marker id="tick" markerWidth="7" markerHeight="7" refX="6.5" refY="3.5" orient="auto-start-reverse">
        <path d="M0 1 7 3.5 0 6z" fill="var(--ink)" />
      </marker>
    </defs>
    <template v-if="kind === 'pin' || kind === 'dowel'">
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path v-if="kind === 'pin'" class="bore" d="M88 46V13H132V46" />
      <path v-else class="bore" d="M88 13H132V79H88z" />
      <path v-if="kind === 'pin'" class="male" d="M91 50V22L97 16H123L129 22V50" />
      <path v-else class="male" d="M97 16H123L129 22V70L123 76H97L91 70V22z" />
      <path v-if="kind === 'pin'" class="dim" d="M91 60H129" />
      <path v-else class="dim" d="M91 46H129" />
      <text x="110" :y="kind === 'pin' ? 73 : 41">diameter</text>
      <path class="dim" :d="kind === 'pin' ? 'M150 16V46' : 'M150 16V76'" />
      <text x="156" :y="34" class="left">length</text>
      <text x="198" y="30" class="left">tip</text>
      <path class="lead" d="M197 26 128 19" />
    </template>
    <template v-else-if="kind === 'dovetail'">
      <path class="b" d="M30 8H200V50H30z" />
      <path class="a" d="M30 50H200V84H30z" />
      <path class="bore" d="M86 50 70 20H160L144 50" />
      <path class="male" d="M91 54V50L76 25 80 23H150L154 25 139 50V54" />
      <path class="dim" d="M91 63H139" />
      <text x="115" y="76">neck</text>
      <path class="dim" d="M76 14H154" />
      <text x="115" y="11" class="over">head</text>
      <path class="dim" d="M176 23V50" />
      <text x="182" y="40" class="left">depth</text>
    </template>
    <template v-else-if="kind === 'key'">
      <path class="a" d="M20 8H96V84H20z" />
      <path class="b" d="M96 8H172V84H96z" />
      <path class="male" d="M60 26 96 34 132 26V66L96 58 60 66z" />
      <path class="dim" d="M60 75H132" />
      <text x="96" y="88" class="over">length</text>
      <path class="dim" d="M143 26V66" />
      <text x="148" y="50" class="left">ends</text>
      <path class="dim" d="M96 34V58" />
      <text x="84" y="50">waist</text>
      <path class="b" d="M196 30H262V70H196z" />
      <path class="male" d="M206 34H252V50H206z" />
      <path class="dim" d="M229 34V50" />
      <text x="229" y="64">thickness</text>
      <text x="229" y="24">below</text>
    </template>
    <template v-else-if="kind === 'lip'">
      <path class="b" d="M60 6H112V30H84V50H60z" />
      <path class="a" d="M60 54H84V33H112V86H60z" />
      <text x="52" y="26" class="right">outside</text>
      <path class="dim" d="M86 70H112" />
      <text x="126" y="74" class="left">thickness</text>
      <path class="dim" d="M122 33V54" />
      <text x="128" y="47" class="left">height, chamfer above</text>
    </template>
    <template v-else-if="kind === 'tongue'">
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path class="bore" d="M84 46 89 13H131L136 46" />
      <path class="male" d="M88 50V46L93 20 96 17H124L127 20 132 46V50" />
      <path class="dim" d="M88 60H132" />
      <text x="110" y="73">width</text>
      <path class="dim" d="M150 17V46" />
      <text x="156" y="34" class="left">height</text>
      <text x="198" y="30" class="left">taper</text>
      <path class="lead" d="M197 27 131 36" />
      <path class="male" d="M198 74V62H222L228 56H234L240 62H262V74" />
      <text x="231" y="88">catch</text>
      <path class="dim" d="M246 56V62" />
    </template>
    <template v-else-if="kind === 'finger'">
      <path class="b" d="M16 8H190V46H168V16H124V46H82V16H38V46H16z" />
      <path class="a" d="M16 84V50H40V18H80V50H126V18H166V50H190V84z" />
      <path class="dim" d="M40 62H80" />
      <text x="60" y="75">width</text>
      <path class="dim" d="M178 18V48" />
      <text x="196" y="36" class="left">depth: none, through</text>
    </template>
    <template v-else-if="kind === 'hook'">
      <path class="b" d="M30 6H190V46H30z" />
      <path class="a" d="M30 62H190V86H30z" />
      <path class="bore" d="M92 46V10H126V18L138 24V32L126 40V46z" />
      <path class="male" d="M96 66V62L108 14H116L130 26V29L122 38V66z" />
      <path class="dim" d="M96 74H122" />
      <text x="86" y="78" class="right">thickness</text>
      <path class="dim" d="M150 38V62" />
      <text x="156" y="53" class="left">length</text>
      <path class="dim" d="M122 22H130" />
      <text x="198" y="26" class="left">nose</text>
      <path class="lead" d="M196 22H134" />
    </template>
    <template v-else-if="kind === 'splice'">
      <path class="a" d="M24 60H104V76H24z" />
      <path class="b" d="M104 60H184V76H104z" />
      <text x="190" y="72" class="left">outside below</text>
      <path class="male" d="M60 40H148V56H60z" />
      <path class="dim" d="M60 30H148" />
      <text x="104" y="24" class="over">length, across the seam</text>
      <path class="dim" d="M158 40V56" />
      <text x="164" y="52" class="left">thickness</text>
    </template>
    <template v-else-if="kind === 'thread'">
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path
        class="bore"
        d="M80 46 74 42 82 38 76 33 82 28 76 23 82 18 82 12H138V18L144 23 138 28 144 33 138 38 146 42 140 46z"
      />
      <path
        class="male"
        d="M84 50V44L80 41 85 37 80 32 85 27 80 22 86 17H134L140 22 135 27 140 32 135 37 140 41 136 44V50"
      />
      <path class="dim" d="M80 60H140" />
      <text x="110" y="73">diameter</text>
      <path class="dim" d="M165 17V46" />
      <path class="lead" d="M196 31H170" />
      <text x="199" y="35" class="left">engagement</text>
      <path class="lead" d="M66 22H76M66 32H76" />
      <text x="62" y="31" class="right">pitch</text>
    </template>
    <template v-else-if="kind === 'bayonet'">
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path class="bore" d="M80 46V36L66 26V18L76 12H144L154 18V26L140 36V46z" />
      <path class="male" d="M84 50V34L70 25V19L78 15H142L150 19V25L136 34V50" />
      <path class="dim" d="M70 58H150" />
      <text x="110" y="72">diameter</text>
      <path class="dim" d="M166 15V46" />
      <text x="198" y="34" class="left">length</text>
      <path class="lead" d="M194 31H170" />
      <path class="lead" d="M27 22H68" />
      <text x="24" y="26" class="right">lugs</text>
    </template>
    <template v-else-if="kind === 'magnet'">
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path class="bore" d="M78 16H142V40H78zM78 52H142V76H78z" />
      <path class="male" d="M82 20H138V38H82zM82 54H138V72H82z" />
      <path class="dim" d="M82 29H138" />
      <text x="110" y="67">diameter</text>
      <path class="dim" d="M156 54V72" />
      <text x="198" y="67" class="left">thickness</text>
      <path class="lead" d="M196 63H160" />
      <text x="198" y="47" class="left">skin</text>
      <path class="lead" d="M196 43 143 43" />
    </template>
    <template v-else-if="kind === 'screw'">
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path class="bore" d="M92 8H128V26H118V46H120V72H100V46H102V26H92z" />
      <path class="male" d="M95 12H125V25H116V68H104V25H95z" />
      <path class="dim" d="M104 60H116" />
      <text x="78" y="64">size</text>
      <path class="lead" d="M90 60H102" />
      <path class="dim" d="M140 8V13" />
      <text x="198" y="18" class="left">sunk</text>
      <path class="lead" d="M196 14 144 11" />
      <text x="198" y="62" class="left">into</text>
      <path class="lead" d="M196 58 122 58" />
    </template>
    <template v-else-if="kind === 'rail'">
      <path class="b" d="M12 8H92V50H12z" />
      <path class="a" d="M12 50H92V84H12z" />
      <path class="bore" d="M36 50 27 24H77L68 50" />
      <path class="male" d="M40 54V50L33 29H71L64 50V54" />
      <path class="dim" d="M40 62H64" />
      <text x="52" y="75">neck</text>
      <path class="dim" d="M33 18H71" />
      <text x="52" y="15" class="over">head</text>
      <path class="b" d="M104 8H262V50H104z" />
      <path class="bore" d="M118 50V24H132V20H222V24H262V50" />
      <path class="a" d="M112 50H182V84H112z" />
      <path class="male" d="M121 52V29H137L141 24H147L151 29H164V52" />
      <path class="dim" d="M121 60H164" />
      <text x="142" y="73">runner</text>
      <path class="dim" d="M151 36H218" />
      <text x="192" y="47">travel</text>
      <text x="198" y="70" class="left">catch</text>
      <path class="lead" d="M200 62 148 25" />
    </template>
    <template v-else-if="kind === 'latch'">
      <path class="b" d="M16 14H76V40H16zM134 14H194V40H134z" />
      <path class="b" d="M76 26H84V40H76zM126 26H134V40H126z" />
      <path class="a" d="M16 40H88V50H78V60L86 68V72H124V68L132 60V50H122V40H194V86H16z" />
      <path
        class="male"
        d="M78 15H100V20H110V15H132V26H124V36L119 39V52L128 60 121 67H89L82 60 91 52V39L86 36V26H78z"
      />
      <text x="202" y="22" class="left">head</text>
      <path class="lead" d="M200 18 133 20" />
      <text x="202" y="46" class="left">ledge</text>
      <path class="lead" d="M200 42 126 46" />
      <text x="202" y="68" class="left">lugs</text>
      <path class="lead" d="M200 64 126 61" />
      <path class="dim" d="M66 40V67" />
      <text x="60" y="58" class="right">length</text>
    </template>
    <template v-else-if="kind === 'hinge'">
      <path class="b" d="M20 40H104V70H84V58H20z" />
      <path class="a" d="M112 40H180V84H20V64H80V76H112z" />
      <path class="male" d="M94 28a14 14 0 1 0 28 0a14 14 0 1 0 -28 0" />
      <path class="bore" d="M102 28a6 6 0 1 0 12 0a6 6 0 1 0 -12 0" />
      <path class="dim" d="M102 28H114" />
      <text x="198" y="16" class="left">pin</text>
      <path class="lead" d="M195 13 112 26" />
      <text x="198" y="34" class="left">wall</text>
      <path class="lead" d="M195 30 119 30" />
      <path class="dim" d="M72 28V40" />
      <text x="66" y="32" class="right">off</text>
      <text x="198" y="56" class="left">gap</text>
      <path class="lead" d="M195 52 109 50" />
    </template>
    <template v-else>
      <path class="b" d="M30 8H190V46H30z" />
      <path class="a" d="M30 46H190V84H30z" />
      <path class="seam" d="M30 46H190" />
      <text x="198" y="50" class="left">glue</text>
    </template>
  </svg>
</template>

<style scoped>
.sketch {
  display: block;
  width: 100%;
  max-width: 284px;
  margin: 4px 0 6px;
}
.a {
  fill: var(--wood-deep);
  stroke: var(--ink);
}
.b {
  fill: var(--wood);
  stroke: var(--ink);
}
.bore {
  fill: var(--sheet);
  stroke: var(--ink);
}
.male {
  fill: var(--wood-deep);
  stroke: var(--cedar);
  stroke-width: 1.6;
}
.dim {
  stroke: var(--ink);
  fill: none;
  marker-start: url(#tick);
  marker-end: url(#tick);
}
.lead {
  stroke: var(--ink-soft);
  fill: none;
}
.seam {
  stroke: var(--cedar);
  stroke-width: 2.4;
}
text {
  font-size: 11px;
  text-anchor: middle;
  fill: var(--ink);
}
.left {
  text-anchor: start;
}
.right {
  text-anchor: end;
}
</style>
